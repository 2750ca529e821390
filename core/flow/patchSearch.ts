import type { FlowField } from './flowField';
import type { Plane } from './plane';

/** Patches are so many px to a side, and lie so far apart. */
export const PATCH = 8;
export const STRIDE = 4;
const AREA = PATCH * PATCH;
/** So many steps at most towards where a patch fits. */
const STEPS = 12;
/** A step that is shorter ends the search, px. */
const SHORT = 0.02;
/** What has left its beginning by more has lost itself, px. */
const LOST = PATCH;
/** A patch that leaves the frame by a px is as far off as one whose every px is off by a grey level. */
const OUTSIDE = AREA;
/** Added to both slopes, so that patches without any have an answer. */
const FLAT = 1e-3 * AREA;

/** What was found for patches on a grid. */
export interface Patches {
  readonly across: number;
  readonly down: number;
  readonly dx: Float32Array;
  readonly dy: Float32Array;
}

/** Looks for patches of one plane in another. */
export class PatchSearch {
  readonly across: number;
  readonly down: number;
  private readonly gx: Float32Array;
  private readonly gy: Float32Array;
  /** The patch in work: its values less their mean, and its slopes. */
  private readonly values = new Float32Array(AREA);
  private readonly slopeX = new Float32Array(AREA);
  private readonly slopeY = new Float32Array(AREA);
  private readonly seen = new Float32Array(AREA);

  constructor(
    private readonly from: Plane,
    private readonly to: Plane,
  ) {
    const { width, height } = from;
    this.across = Math.max(1, Math.floor((width - PATCH) / STRIDE) + 1);
    this.down = Math.max(1, Math.floor((height - PATCH) / STRIDE) + 1);
    [this.gx, this.gy] = slopesOf(from);
  }

  /** @param begin where each patch begins to look */
  find(begin: FlowField): Patches {
    const { across, down } = this;
    const found: Patches = {
      across,
      down,
      dx: new Float32Array(across * down),
      dy: new Float32Array(across * down),
    };
    const misfit = new Float32Array(across * down).fill(Infinity);
    // Twice: what was found left and above, then what was found right and below, is tried as well.
    for (const way of [1, -1])
      for (let n = 0; n < across * down; n++) {
        const k = way > 0 ? n : across * down - 1 - n;
        const u = k % across;
        const v = (k - u) / across;
        const at = (v * STRIDE + PATCH / 2) * begin.width + u * STRIDE + PATCH / 2;
        const tries: [number, number][] = way > 0 ? [[begin.dx[at], begin.dy[at]]] : [[found.dx[k], found.dy[k]]];
        if (u - way >= 0 && u - way < across) tries.push([found.dx[k - way], found.dy[k - way]]);
        if (v - way >= 0 && v - way < down) tries.push([found.dx[k - way * across], found.dy[k - way * across]]);
        this.take(u * STRIDE, v * STRIDE);
        let best: [number, number] = tries[0];
        let least = Infinity;
        for (const place of tries) {
          const off = this.misfit(u * STRIDE + place[0], v * STRIDE + place[1]);
          if (off < least) [least, best] = [off, place];
        }
        if (way < 0 && best === tries[0]) continue;
        const [dx, dy, off] = this.improve(u * STRIDE, v * STRIDE, best, least);
        if (off >= misfit[k]) continue;
        found.dx[k] = dx;
        found.dy[k] = dy;
        misfit[k] = off;
      }
    return found;
  }

  /** Takes a patch in work. */
  private take(left: number, top: number): void {
    const { from, gx, gy, values, slopeX, slopeY } = this;
    const { width, height } = from;
    let sum = 0;
    for (let y = 0, n = 0; y < PATCH; y++) {
      const row = Math.min(height - 1, top + y) * width;
      for (let x = 0; x < PATCH; x++, n++) {
        const i = row + Math.min(width - 1, left + x);
        values[n] = from.data[i];
        slopeX[n] = gx[i];
        slopeY[n] = gy[i];
        sum += values[n];
      }
    }
    for (let n = 0; n < AREA; n++) values[n] -= sum / AREA;
  }

  /** How far the patch in work is from what lies at a place, both less their means: the sum of squares. What lies there is kept in `seen`. */
  private misfit(left: number, top: number): number {
    const { to, values, seen } = this;
    const { width, height, data } = to;
    // The whole patch has the same share of a px: its four weights are worked out once.
    const x = Math.min(width - PATCH - 1, Math.max(0, left));
    const y = Math.min(height - PATCH - 1, Math.max(0, top));
    // Beyond the frame everything would look like its border, however far away: what leaves it pays for the way.
    const beyond = Math.abs(left - x) + Math.abs(top - y);
    const x0 = Math.floor(x);
    const y0 = Math.floor(y);
    const [fx, fy] = [x - x0, y - y0];
    const [a, b, c, d] = [(1 - fx) * (1 - fy), fx * (1 - fy), (1 - fx) * fy, fx * fy];
    let sum = 0;
    for (let v = 0, n = 0; v < PATCH; v++)
      for (let u = 0, i = (y0 + v) * width + x0; u < PATCH; u++, i++, n++) {
        const value = a * data[i] + b * data[i + 1] + c * data[i + width] + d * data[i + width + 1];
        seen[n] = value;
        sum += value;
      }
    let off = OUTSIDE * beyond * beyond;
    for (let n = 0; n < AREA; n++) {
      seen[n] -= sum / AREA;
      off += (seen[n] - values[n]) ** 2;
    }
    return off;
  }

  /** Steps towards where the patch in work fits, while it fits better. */
  private improve(left: number, top: number, [bx, by]: [number, number], begin: number): [number, number, number] {
    const { slopeX, slopeY, values, seen } = this;
    let [xx, xy, yy] = [FLAT, 0, FLAT];
    for (let n = 0; n < AREA; n++) {
      xx += slopeX[n] * slopeX[n];
      xy += slopeX[n] * slopeY[n];
      yy += slopeY[n] * slopeY[n];
    }
    const det = xx * yy - xy * xy;
    let best: [number, number, number] = [bx, by, begin];
    let [dx, dy] = [bx, by];
    for (let step = 0; step < STEPS; step++) {
      const off = this.misfit(left + dx, top + dy);
      if (off < best[2]) best = [dx, dy, off];
      let [rx, ry] = [0, 0];
      for (let n = 0; n < AREA; n++) {
        const r = seen[n] - values[n];
        rx += r * slopeX[n];
        ry += r * slopeY[n];
      }
      const sx = (yy * rx - xy * ry) / det;
      const sy = (xx * ry - xy * rx) / det;
      dx -= sx;
      dy -= sy;
      if (Math.abs(dx - bx) > LOST || Math.abs(dy - by) > LOST || Math.hypot(sx, sy) < SHORT) break;
    }
    const last = this.misfit(left + dx, top + dy);
    return last < best[2] && Math.abs(dx - bx) <= LOST && Math.abs(dy - by) <= LOST ? [dx, dy, last] : best;
  }
}

/** Central differences; at the border one-sided. */
function slopesOf({ width, height, data }: Plane): [Float32Array, Float32Array] {
  const [gx, gy] = [new Float32Array(data.length), new Float32Array(data.length)];
  for (let y = 0, i = 0; y < height; y++) {
    const up = y > 0 ? width : 0;
    const down = y < height - 1 ? width : 0;
    for (let x = 0; x < width; x++, i++) {
      const left = x > 0 ? 1 : 0;
      const right = x < width - 1 ? 1 : 0;
      gx[i] = (data[i + right] - data[i - left]) / Math.max(1, left + right);
      gy[i] = (data[i + down] - data[i - up]) / Math.max(1, (down + up) / width);
    }
  }
  return [gx, gy];
}
