import { depthAt, type HoledDepth, type Plane } from './plane';

/** Labels are told for squares of so many px. */
export const CELL = 8;
/** What it costs to lie off its plane, and how far off that is. */
const OFF_COST = 1;
const ON = 0.006;
/** What it costs that neighbours lie on different planes: more where these are farther apart, up to so much. */
const SWITCH = 0.15;
const STEEP = 6;
const FAR_APART = 0.15;
/** Passes over the grid, each way. */
const PASSES = 24;

/** Which plane each square of a grid lies on. */
export interface PlaneLabels {
  readonly width: number;
  readonly height: number;
  /** Index of the plane. */
  readonly labels: Uint8Array;
}

/**
 * Which plane each square of a picture with a hole lies on: what is known votes, the hole goes on with its neighbours, and planes
 * change where they meet.
 * Source: Felzenszwalb and Huttenlocher, "Efficient belief propagation for early vision", IJCV 70(1), 2006 (messages of least cost,
 * passed along the scan lines).
 */
export function labelPlanes({ width, height, depth, known }: HoledDepth, planes: readonly Plane[]): PlaneLabels {
  const w = Math.ceil(width / CELL);
  const h = Math.ceil(height / CELL);
  const many = planes.length;
  const cost = new Float32Array(w * h * many);
  const at = new Float32Array(w * h * many);
  for (let cy = 0, cell = 0; cy < h; cy++)
    for (let cx = 0; cx < w; cx++, cell++) {
      const right = Math.min(width, (cx + 1) * CELL);
      const bottom = Math.min(height, (cy + 1) * CELL);
      const off = new Float32Array(many);
      let seen = 0;
      for (let y = cy * CELL; y < bottom; y += 2)
        for (let x = cx * CELL; x < right; x += 2) {
          if (!known[y * width + x]) continue;
          seen++;
          for (let n = 0; n < many; n++) if (Math.abs(depth[y * width + x] - depthAt(planes[n], x, y)) > ON) off[n]++;
        }
      for (let n = 0; n < many; n++) {
        at[cell * many + n] = depthAt(planes[n], (cx + 0.5) * CELL, (cy + 0.5) * CELL);
        if (seen > 0) cost[cell * many + n] = (OFF_COST * off[n]) / seen;
      }
    }
  const grid = new Messages({ w, h, many, cost, at });
  for (let n = 0; n < PASSES; n++) grid.pass();
  return { width: w, height: h, labels: grid.cheapest() };
}

interface Grid {
  readonly w: number;
  readonly h: number;
  /** How many planes there are. */
  readonly many: number;
  /** What it costs each square to lie on each plane. */
  readonly cost: Float32Array;
  /** Depth of each plane in the middle of each square. */
  readonly at: Float32Array;
}

/** Messages between the squares of a grid. */
class Messages {
  /** From the left, the right, above and below, into each square, each plane. */
  private readonly into: readonly Float32Array[];

  constructor(private readonly grid: Grid) {
    this.into = [0, 1, 2, 3].map(() => new Float32Array(grid.cost.length));
  }

  pass(): void {
    const { w, h } = this.grid;
    for (let y = 0; y < h; y++) {
      for (let x = 0; x + 1 < w; x++) this.send(y * w + x, y * w + x + 1, 0);
      for (let x = w - 1; x > 0; x--) this.send(y * w + x, y * w + x - 1, 1);
    }
    for (let x = 0; x < w; x++) {
      for (let y = 0; y + 1 < h; y++) this.send(y * w + x, (y + 1) * w + x, 2);
      for (let y = h - 1; y > 0; y--) this.send(y * w + x, (y - 1) * w + x, 3);
    }
  }

  /** @param way 0 to the right, 1 to the left, 2 down, 3 up */
  private send(from: number, to: number, way: number): void {
    const { many, cost, at } = this.grid;
    const { into } = this;
    const back = way ^ 1;
    let least = Infinity;
    for (let n = 0; n < many; n++) {
      let best = Infinity;
      for (let m = 0; m < many; m++) {
        const k = from * many + m;
        let sum = cost[k];
        for (let d = 0; d < 4; d++) if (d !== back) sum += into[d][k];
        if (m !== n) {
          const apart = Math.abs(at[from * many + m] - at[from * many + n]);
          sum += SWITCH + STEEP * Math.min(apart, FAR_APART);
        }
        if (sum < best) best = sum;
      }
      into[way][to * many + n] = best;
      if (best < least) least = best;
    }
    for (let n = 0; n < many; n++) into[way][to * many + n] -= least;
  }

  cheapest(): Uint8Array {
    const { many, cost } = this.grid;
    const { into } = this;
    const labels = new Uint8Array(cost.length / many);
    for (let cell = 0; cell < labels.length; cell++) {
      let least = Infinity;
      for (let n = 0; n < many; n++) {
        const k = cell * many + n;
        const sum = cost[k] + into[0][k] + into[1][k] + into[2][k] + into[3][k];
        if (sum < least) {
          least = sum;
          labels[cell] = n;
        }
      }
    }
    return labels;
  }
}
