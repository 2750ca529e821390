import { layOut, ownKernels } from '../kernels/kernels';
import type { MattingLevel } from './mattingLevel';

/** Pixels of a window, 3 x 3. */
const WINDOW = 9;
/**
 * The kernel works with 9 times the colour less the window's sum, which is exact in floats: with the mean itself a
 * window of nearly
 * one colour, whose inverse covariance is huge, would drown in rounding. What the kernel sees is this many times a
 * colour of 0 to 1.
 */
const SCALE = WINDOW * 255;

/** The matting equations of one level; the matrix is never built, each window is applied by its mean and inverse covariance. */
export class MattingSystem {
  private readonly corners: Int32Array;
  private readonly facts: Float32Array;
  private readonly diagonal: Float32Array;

  constructor(
    private readonly level: MattingLevel,
    epsilon: number,
  ) {
    const { width, height, unsure } = level;
    const taken = new Uint8Array(width * height);
    let count = 0;
    for (let y = 0, i = 0; y < height; y++) {
      for (let x = 0; x < width; x++, i++) {
        if (!unsure[i]) continue;
        for (let v = Math.max(0, y - 2); v <= Math.min(height - 3, y); v++) {
          for (let u = Math.max(0, x - 2); u <= Math.min(width - 3, x); u++)
            if (!taken[v * width + u]) {
              taken[v * width + u] = 1;
              count++;
            }
        }
      }
    }
    this.corners = new Int32Array(count);
    this.facts = new Float32Array(count * 9);
    this.diagonal = new Float32Array(width * height);
    for (let c = 0, n = 0; c < taken.length; c++) if (taken[c]) this.learn(c, n++, epsilon);
  }

  /** Sum of colours and inverse of (covariance + epsilon / 9) of window n, and its share of the diagonal. */
  private learn(corner: number, n: number, epsilon: number): void {
    const { red, green, blue, width } = this.level;
    this.corners[n] = corner;
    let r = 0;
    let g = 0;
    let b = 0;
    let rr = 0;
    let rg = 0;
    let rb = 0;
    let gg = 0;
    let gb = 0;
    let bb = 0;
    for (let y = 0; y < 3; y++)
      for (let i = corner + y * width; i < corner + y * width + 3; i++) {
        r += red[i];
        g += green[i];
        b += blue[i];
      }
    const sums = [r, g, b];
    for (let y = 0; y < 3; y++) {
      for (let i = corner + y * width; i < corner + y * width + 3; i++) {
        const u = (WINDOW * red[i] - r) / SCALE;
        const v = (WINDOW * green[i] - g) / SCALE;
        const w = (WINDOW * blue[i] - b) / SCALE;
        rr += u * u;
        rg += u * v;
        rb += u * w;
        gg += v * v;
        gb += v * w;
        bb += w * w;
      }
    }
    const e = epsilon / WINDOW;
    rr = rr / WINDOW + e;
    gg = gg / WINDOW + e;
    bb = bb / WINDOW + e;
    rg /= WINDOW;
    rb /= WINDOW;
    gb /= WINDOW;
    const det = rr * (gg * bb - gb * gb) - rg * (rg * bb - gb * rb) + rb * (rg * gb - gg * rb);
    const irr = (gg * bb - gb * gb) / det;
    const irg = (rb * gb - rg * bb) / det;
    const irb = (rg * gb - rb * gg) / det;
    const igg = (rr * bb - rb * rb) / det;
    const igb = (rg * rb - rr * gb) / det;
    const ibb = (rr * gg - rg * rg) / det;
    this.facts.set([...sums, ...[irr, irg, irb, igg, igb, ibb].map((v) => v / (SCALE * SCALE))], n * 9);
    for (let y = 0; y < 3; y++) {
      for (let i = corner + y * width; i < corner + y * width + 3; i++) {
        const u = (WINDOW * red[i] - r) / SCALE;
        const v = (WINDOW * green[i] - g) / SCALE;
        const w = (WINDOW * blue[i] - b) / SCALE;
        this.diagonal[i] +=
          1 - (1 + u * u * irr + v * v * igg + w * w * ibb + 2 * (u * v * irg + u * w * irb + v * w * igb)) / WINDOW;
      }
    }
  }

  /** Conjugate gradients on the unsure pixels from `alpha` on, which is changed and returned. */
  solve(alpha: Float32Array, accuracy: number, iterations: number, onProgress?: (share: number) => void): Float32Array {
    const {
      diagonal,
      corners,
      facts,
      level: { width, height, unsure, count, red, green, blue },
    } = this;
    const n = width * height;
    const plane = n * 4 + 64;
    const k = ownKernels();
    const {
      at: [cornersAt, factsAt, redAt, greenAt, blueAt, directionAt, productAt],
      buffer,
    } = layOut([corners.length * 4, facts.length * 4, plane, plane, plane, plane, plane], k);
    new Int32Array(buffer, cornersAt, corners.length).set(corners);
    new Float32Array(buffer, factsAt, facts.length).set(facts);
    for (const [at, colours] of [
      [redAt, red],
      [greenAt, green],
      [blueAt, blue],
    ] as const) {
      const to = new Float32Array(buffer, at, n);
      for (let i = 0; i < n; i++) to[i] = WINDOW * colours[i];
    }
    const direction = new Float32Array(buffer, directionAt, n);
    const product = new Float32Array(buffer, productAt, n);
    const apply = (): void => {
      product.fill(0);
      k.applyMatting(cornersAt, factsAt, corners.length, redAt, greenAt, blueAt, directionAt, productAt, width);
    };
    const index = new Int32Array(count);
    for (let i = 0, m = 0; i < n; i++) if (unsure[i]) index[m++] = i;
    direction.set(alpha);
    apply();
    direction.fill(0);
    const residual = new Float32Array(count);
    const inverse = new Float32Array(count);
    let rz = 0;
    let first = 0;
    for (let m = 0; m < count; m++) {
      const i = index[m];
      const r = -product[i];
      inverse[m] = 1 / Math.max(diagonal[i], 1e-6);
      residual[m] = r;
      direction[i] = r * inverse[m];
      rz += r * direction[i];
      first += r * r;
    }
    for (let turn = 0; turn < iterations && rz > 0; turn++) {
      apply();
      let curvature = 0;
      for (let m = 0; m < count; m++) {
        const i = index[m];
        curvature += direction[i] * product[i];
      }
      if (!(curvature > 0)) break;
      const step = rz / curvature;
      let next = 0;
      let length = 0;
      for (let m = 0; m < count; m++) {
        const i = index[m];
        alpha[i] += step * direction[i];
        const r = (residual[m] -= step * product[i]);
        length += r * r;
        next += r * r * inverse[m];
      }
      if (length <= first * accuracy * accuracy) break;
      const keep = next / rz;
      rz = next;
      for (let m = 0; m < count; m++) {
        const i = index[m];
        direction[i] = residual[m] * inverse[m] + keep * direction[i];
      }
      if (onProgress && turn % 8 === 7) onProgress(Math.min(1, Math.log(first / length) / (-2 * Math.log(accuracy))));
    }
    return alpha;
  }
}
