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
      let open = 0;
      for (let y = top; y < bottom; y++) for (let x = left; x < right; x++) open |= wanted[y * width + x];
      if (open === 0) continue;
      ballot.weigh(left + SQUARE / 2, top + SQUARE / 2);
      for (let y = top; y < bottom; y++)
        for (let x = left; x < right; x++) if (wanted[y * width + x]) ballot.count(x, y, answers);
    }
  return answers;
}

/** Offsets whose votes count, and their weights. */
interface Voters {
  readonly who: Int32Array;
  readonly weights: Float64Array;
  many: number;
}

const noVoters = (most: number): Voters => ({
  who: new Int32Array(most),
  weights: new Float64Array(most),
  many: 0,
});

/** The votes of a square. */
class Ballot {
  /** Logarithms. */
  private readonly fits: Float64Array;
  private readonly shifts: Float32Array;
  /** Those of the square, and those of one of its places that the best of these do not reach. */
  private readonly all: Voters;
  private readonly some: Voters;
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
    this.shifts = new Float32Array(offsets.length * 3);
    this.all = noVoters(offsets.length);
    this.some = noVoters(offsets.length);
  }

  /** Weighs the votes at a place, between the cells around it. */
  weigh(x: number, y: number): void {
    const { misfits, asking, fits } = this;
    const { width, height, channels, values } = misfits;
    const u = Math.min(width - 1, Math.max(0, x / asking.factor - 0.5));
    const v = Math.min(height - 1, Math.max(0, y / asking.factor - 0.5));
    const x0 = Math.floor(u);
    const y0 = Math.floor(v);
    const fx = u - x0;
    const fy = v - y0;
    const many = fits.length;
    const cell = (y0 * width + x0) * channels * many;
    const across = x0 + 1 < width ? channels * many : 0;
    const down = y0 + 1 < height ? width * channels * many : 0;
    this.corners = [cell, across, down];
    const [p, q, r, t] = [(1 - fx) * (1 - fy), fx * (1 - fy), (1 - fx) * fy, fx * fy];
    this.between = [p, q, r, t];
    for (let n = 0, at = cell; n < many; n++, at++)
      fits[n] = p * values[at] + q * values[at + across] + r * values[at + down] + t * values[at + across + down];
    this.ranked = false;
  }

  /** Counts the votes for a place. */
  count(x: number, y: number, answers: Said): void {
    const { all, some, offsets } = this;
    if (!this.ranked) {
      for (let n = 0; n < offsets.length; n++) all.who[n] = n;
      this.rank(all, offsets.length);
      this.ranked = true;
    }
    if (this.mix(x, y, all, answers)) return;
    // Those that fit best reach nothing from here: the others among themselves.
    const { width, height, from } = this.ground;
    let many = 0;
    for (let n = 0; n < offsets.length; n++) {
      const u = x + offsets[n].dx;
      const v = y + offsets[n].dy;
      if (u >= 0 && v >= 0 && u < width && v < height && from[v * width + u] === 1) some.who[many++] = n;
    }
    if (many === 0) return;
    this.rank(some, many);
    this.mix(x, y, some, answers);
  }

  /** Of so many voters those that count come first, with their weights. */
  private rank(voters: Voters, many: number): void {
    const { fits } = this;
    const { kappa, forgiven } = this.asking;
    const { who, weights } = voters;
    let least = Infinity;
    for (let k = 0; k < many; k++) if (fits[who[k]] < least) least = fits[who[k]];
    const best = Math.exp(least);
    // Beyond this a vote weighs less than counts.
    const worst = Math.log(best * (1 - 2 * kappa * LOG_LEAST));
    voters.many = 0;
    for (let k = 0; k < many; k++) {
      const n = who[k];
      if (fits[n] > worst) continue;
      weights[voters.many] = Math.exp(-(Math.exp(fits[n]) - best) / (2 * kappa * best));
      who[voters.many++] = n;
      if (forgiven > 0) this.shift(n);
    }
  }

  /** By how much a vote's colours are to be shifted here. */
  private shift(n: number): void {
    const { misfits, corners, between, shifts } = this;
    const { values } = misfits;
    const [cell, across, down] = corners;
    const [p, q, r, t] = between;
    for (let k = 1; k < 4; k++) {
      const at = cell + k * this.fits.length + n;
      shifts[n * 3 + k - 1] =
        p * values[at] + q * values[at + across] + r * values[at + down] + t * values[at + across + down];
    }
  }

  /** The mean of the votes; false where too little of them can be asked. */
  private mix(x: number, y: number, { who, weights, many }: Voters, { colours: out, said }: Said): boolean {
    const { offsets, shifts } = this;
    const { width, height, colours, from } = this.ground;
    let sum = 0;
    let r = 0;
    let g = 0;
    let b = 0;
    for (let k = 0; k < many; k++) {
      const n = who[k];
      const u = x + offsets[n].dx;
      const v = y + offsets[n].dy;
      if (u < 0 || v < 0 || u >= width || v >= height) continue;
      const j = v * width + u;
      if (!from[j]) continue;
      const w = weights[k];
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
