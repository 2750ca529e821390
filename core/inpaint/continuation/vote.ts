import type { Ground } from './ground';
import type { Misfits } from './misfits';
import type { Offset } from './offsets';

/** Votes of less weight than this change nothing; where less than the other is left in all, the best are missing. */
const LEAST = 1e-3;
const LOG_LEAST = Math.log(LEAST);
const ENOUGH = 0.9;
/** Votes are weighed for squares of so many px. */
const SQUARE = 4;

/** What was said of places. */
export interface Said {
  /** Red, green and blue, interleaved. */
  readonly colours: Float32Array;
  /** 1 where anything was said. */
  readonly said: Uint8Array;
}

/** What is asked of the votes. */
export interface Asking {
  /** Of the misfits' grid. */
  readonly factor: number;
  /** 1 where it is asked. */
  readonly wanted: Uint8Array;
  /** How soft the vote is. */
  readonly kappa: number;
  /** How much of a mean difference is made good, 0 to 1. */
  readonly forgiven: number;
}

/**
 * What the offsets say of places: the mean of the shifted pictures, the better fitting ones weighing more, by
 * exp(-(E - Emin) / (2 kappa Emin)).
 */
export function vote(ground: Ground, offsets: readonly Offset[], misfits: Misfits, asking: Asking): Said {
  const { wanted } = asking;
  const { width, height } = ground;
  const ballot = new Ballot(ground, offsets, misfits, asking);
  const answers: Said = { colours: new Float32Array(width * height * 3), said: new Uint8Array(width * height) };
  for (let top = 0; top < height; top += SQUARE)
    for (let left = 0; left < width; left += SQUARE) {
      const right = Math.min(width, left + SQUARE);
      const bottom = Math.min(height, top + SQUARE);
      let open = false;
      for (let y = top; y < bottom; y++) for (let x = left; x < right; x++) open ||= wanted[y * width + x] === 1;
      if (!open) continue;
      ballot.weigh(left + SQUARE / 2, top + SQUARE / 2);
      for (let y = top; y < bottom; y++)
        for (let x = left; x < right; x++) if (wanted[y * width + x]) ballot.count(x, y, answers);
    }
  return answers;
}

/** The votes of a square. */
class Ballot {
  /** Logarithms. */
  private readonly fits: Float64Array;
  private readonly weights: Float64Array;
  private readonly shifts: Float32Array;
  private readonly heavy: Int32Array;
  private many = 0;
  private ranked = false;
  /** Where the cells around lie, and how near each is. */
  private corners: readonly number[] = [];
  private between: readonly number[] = [];

  constructor(
    private readonly ground: Ground,
    private readonly offsets: readonly Offset[],
    private readonly misfits: Misfits,
    private readonly asking: Asking,
  ) {
    this.fits = new Float64Array(offsets.length);
    this.weights = new Float64Array(offsets.length);
    this.shifts = new Float32Array(offsets.length * 3);
    this.heavy = new Int32Array(offsets.length);
  }

  /** Weighs the votes at a place, between the cells around it. */
  weigh(x: number, y: number): void {
    const { misfits, asking, fits } = this;
    const { width, height, channels, planes } = misfits;
    const u = Math.min(width - 1, Math.max(0, x / asking.factor - 0.5));
    const v = Math.min(height - 1, Math.max(0, y / asking.factor - 0.5));
    const x0 = Math.floor(u);
    const y0 = Math.floor(v);
    const fx = u - x0;
    const fy = v - y0;
    const cell = (y0 * width + x0) * channels;
    this.corners = [cell, x0 + 1 < width ? channels : 0, y0 + 1 < height ? width * channels : 0];
    const [, across, down] = this.corners;
    const [p, q, r, t] = [(1 - fx) * (1 - fy), fx * (1 - fy), (1 - fx) * fy, fx * fy];
    this.between = [p, q, r, t];
    for (let n = 0; n < planes.length; n++) {
      const plane = planes[n];
      fits[n] = p * plane[cell] + q * plane[cell + across] + r * plane[cell + down] + t * plane[cell + across + down];
    }
    this.ranked = false;
  }

  /** Counts the votes for a place. */
  count(x: number, y: number, answers: Said): void {
    if (!this.ranked) this.rank();
    if (this.mix(x, y, this.many, answers)) return;
    // Those that fit best reach nothing from here: the others among themselves.
    const { fits, heavy } = this;
    let least = Infinity;
    for (let n = 0; n < fits.length; n++) if (fits[n] < least && this.reaches(x, y, n)) least = fits[n];
    if (least === Infinity) return;
    const best = Math.exp(least);
    const worst = this.worstBeside(best);
    let many = 0;
    for (let n = 0; n < fits.length; n++) {
      if (fits[n] > worst || !this.reaches(x, y, n)) continue;
      this.give(n, best);
      heavy[many++] = n;
    }
    this.mix(x, y, many, answers);
    // The square's next places ask all of them again.
    this.ranked = false;
  }

  private reaches(x: number, y: number, n: number): boolean {
    const { width, height, from } = this.ground;
    const u = x + this.offsets[n].dx;
    const v = y + this.offsets[n].dy;
    return u >= 0 && v >= 0 && u < width && v < height && from[v * width + u] === 1;
  }

  /** Weights of all votes that count, those that matter first. */
  private rank(): void {
    const { fits, heavy } = this;
    let least = Infinity;
    for (let n = 0; n < fits.length; n++) if (fits[n] < least) least = fits[n];
    const best = Math.exp(least);
    const worst = this.worstBeside(best);
    this.many = 0;
    for (let n = 0; n < fits.length; n++) {
      if (fits[n] > worst) continue;
      this.give(n, best);
      heavy[this.many++] = n;
    }
    this.ranked = true;
  }

  /** Beyond this a vote weighs less than counts, as a logarithm. */
  private worstBeside(best: number): number {
    return Math.log(best * (1 - 2 * this.asking.kappa * LOG_LEAST));
  }

  /** Gives a vote its weight beside the best one. */
  private give(n: number, best: number): void {
    const { kappa, forgiven } = this.asking;
    this.weights[n] = Math.exp(-(Math.exp(this.fits[n]) - best) / (2 * kappa * best));
    if (forgiven > 0) this.shift(n);
  }

  /** By how much a vote's colours are to be shifted here. */
  private shift(n: number): void {
    const { misfits, corners, between, shifts } = this;
    const plane = misfits.planes[n];
    const [cell, across, down] = corners;
    const [p, q, r, t] = between;
    for (let k = 1; k < 4; k++) {
      const at = cell + k;
      shifts[n * 3 + k - 1] =
        p * plane[at] + q * plane[at + across] + r * plane[at + down] + t * plane[at + across + down];
    }
  }

  /** The mean of the first so many votes; false where too little of them can be asked. */
  private mix(x: number, y: number, many: number, { colours: out, said }: Said): boolean {
    const { offsets, weights, heavy, shifts } = this;
    const { width, height, colours, from } = this.ground;
    let sum = 0;
    let r = 0;
    let g = 0;
    let b = 0;
    for (let k = 0; k < many; k++) {
      const n = heavy[k];
      const u = x + offsets[n].dx;
      const v = y + offsets[n].dy;
      if (u < 0 || v < 0 || u >= width || v >= height) continue;
      const j = v * width + u;
      if (!from[j]) continue;
      const w = weights[n];
      sum += w;
      r += w * (colours[j * 3] + shifts[n * 3]);
      g += w * (colours[j * 3 + 1] + shifts[n * 3 + 1]);
      b += w * (colours[j * 3 + 2] + shifts[n * 3 + 2]);
    }
    if (sum < ENOUGH) return false;
    const i = y * width + x;
    out[i * 3] = r / sum;
    out[i * 3 + 1] = g / sum;
    out[i * 3 + 2] = b / sum;
    said[i] = 1;
    return true;
  }
}
