import type { Size } from '../kind';
import { NormalEquations } from './normalEquations';

/** Beyond this median residual a scene is not rigid, px. */
export const NOT_RIGID = 1;

/** A camera that takes the picture by less stands still, px. */
export const STILL = 0.5;

/** The share of samples that says how far a motion takes the picture: a few lie where it is hardly known. */
const MOST = 0.9;

/**
 * How a rigid scene moves in the picture when its camera moves a little: a place x of depth d (linear in one over the
 * distance) goes by
 * u = (a + c x') d + turn_u(x), v = (b + c y') d + turn_v(x), x' where it goes to, with the six terms of a turn, a
 * zoom and a shift of the whole
 * picture. Places are px from the picture's middle over half its width.
 */
export class RigidMotion {
  // Read for every pixel: fields are quicker than a list.
  private readonly a: number;
  private readonly b: number;
  private readonly c: number;
  private readonly r0: number;
  private readonly r1: number;
  private readonly r2: number;
  private readonly r3: number;
  private readonly r4: number;
  private readonly r5: number;

  /**
   * @param terms a, b, c, then the six: shift across and down, turn in the picture, turn to the side and up, zoom
   * @param residual half of the samples lie nearer to it than so many px
   * @param shift nine tenths of the samples are taken by it no farther than so many px; where nothing tells, nothing
   * was seen to go
   */
  constructor(
    readonly size: Size,
    readonly terms: readonly number[],
    readonly residual: number,
    readonly shift = 0,
  ) {
    [this.a, this.b, this.c, this.r0, this.r1, this.r2, this.r3, this.r4, this.r5] = terms;
  }

  /** Where a place of a depth goes to: px it moves by, written into `out`. */
  move(x: number, y: number, depth: number, out: Float64Array): void {
    const { width, height } = this.size;
    const half = width / 2;
    const px = (x - width / 2) / half;
    const py = (y - height / 2) / half;
    const turnU = this.r0 - this.r2 * py + this.r3 * px * px + this.r4 * px * py + this.r5 * px;
    const turnV = this.r1 + this.r2 * px + this.r3 * px * py + this.r4 * py * py + this.r5 * py;
    // x' stands on both sides: u = (a + c (px + u)) d + turn.
    const share = half / (1 - this.c * depth);
    out[0] = share * ((this.a + this.c * px) * depth + turnU);
    out[1] = share * ((this.b + this.c * py) * depth + turnV);
  }

  /** The depth of a place after the camera has moved: its distance is as much shorter as the camera has come nearer. */
  depthAfter(depth: number): number {
    const nearer = 1 - this.c * depth;
    const after = depth / (nearer > 0.05 ? nearer : 0.05);
    return after > 1 ? 1 : after;
  }
}

/** A place of one frame, its depth 0 to 1, where it was seen to go, px, and how sure that is. */
export interface MotionSample {
  readonly x: number;
  readonly y: number;
  readonly depth: number;
  readonly dx: number;
  readonly dy: number;
  readonly trust: number;
}

const TERMS = 9;
const WIDE = TERMS + 1;
const ROUNDS = 12;

/**
 * Fits the motion to what was seen: least squares, weighed anew in twelve rounds by how far each sample was off, so
 * that what moves by
 * itself has no say.
 * Source: Longuet-Higgins and Prazdny, "The interpretation of a moving retinal image", Proc. R. Soc. B 208, 1980 (the
 * terms).
 */
export function fitMotion(size: Size, samples: readonly MotionSample[]): RigidMotion {
  const half = size.width / 2;
  // Two equations a sample, each its nine factors and what they shall make. Where it goes to stands on both sides: it
  // is taken from the
  // terms of the round before. Taken from what was seen, a scene of one depth would have terms (c = 1 / depth, zoom
  // -1) that fit
  // whatever it sees.
  const rows = new Float64Array(samples.length * 2 * WIDE);
  const off = new Float64Array(samples.length);
  const gone = new Float64Array(2);
  let terms = new Float64Array(TERMS);
  let scale = 2;
  for (let round = 0; round < ROUNDS; round++) {
    const known = new RigidMotion(size, [...terms], 0);
    samples.forEach((sample, n) => {
      known.move(sample.x, sample.y, sample.depth, gone);
      equations(sample, size, gone, rows.subarray(n * 2 * WIDE, (n + 1) * 2 * WIDE));
    });
    const normal = new NormalEquations(TERMS);
    for (let n = 0; n < samples.length; n++) {
      const { trust } = samples[n];
      const weight = round === 0 ? trust : trust / (1 + (off[n] / scale) ** 2) ** 2;
      if (weight <= 1e-6) continue;
      normal.add(rows, 2 * n * WIDE, weight);
      normal.add(rows, (2 * n + 1) * WIDE, weight);
    }
    terms = normal.solution();
    for (let n = 0; n < samples.length; n++)
      off[n] = half * Math.hypot(missed(rows, 2 * n * WIDE, terms), missed(rows, (2 * n + 1) * WIDE, terms));
    scale = Math.max(0.25, 1.5 * middle(off));
  }
  return samples.length > 0
    ? new RigidMotion(size, [...terms], middle(off), shiftOf(size, terms, samples))
    : new RigidMotion(size, [...terms], Infinity);
}

/** How far a motion takes nine tenths of the samples, at the most, px. */
function shiftOf(size: Size, terms: Float64Array, samples: readonly MotionSample[]): number {
  const motion = new RigidMotion(size, [...terms], 0);
  const out = new Float64Array(2);
  const goes = Float64Array.from(samples, ({ x, y, depth }) => {
    motion.move(x, y, depth, out);
    return Math.hypot(out[0], out[1]);
  }).sort();
  return goes[Math.min(goes.length - 1, Math.floor(MOST * goes.length))];
}

/** By how much terms miss an equation. */
function missed(rows: Float64Array, at: number, terms: Float64Array): number {
  let sum = -rows[at + TERMS];
  for (let i = 0; i < TERMS; i++) sum += rows[at + i] * terms[i];
  return sum;
}

/** @param gone how far it is thought to have gone, px @param out the equation across, then the one down */
function equations({ x, y, depth, dx, dy }: MotionSample, size: Size, gone: Float64Array, out: Float64Array): void {
  const half = size.width / 2;
  const px = (x - size.width / 2) / half;
  const py = (y - size.height / 2) / half;
  const [u, v] = [dx / half, dy / half];
  out.set([depth, 0, (px + gone[0] / half) * depth, 1, 0, -py, px * px, px * py, px, u]);
  out.set([0, depth, (py + gone[1] / half) * depth, 0, 1, px, px * py, py * py, py, v], WIDE);
}

const middle = (values: Float64Array): number => Float64Array.from(values).sort()[values.length >> 1] ?? Infinity;
