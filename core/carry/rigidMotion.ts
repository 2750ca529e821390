import type { Size } from '../kind';
import { NormalEquations } from './normalEquations';

/**
 * How a rigid scene moves in the picture when its camera moves a little: a place x of depth d (linear in one over the
 * distance) goes by
 * u = (a + c x') d + turn_u(x), v = (b + c y') d + turn_v(x), x' where it goes to, with the six terms of a turn, a
 * zoom and a shift of the whole
 * picture. Places are px from the picture's middle over half its width.
 */
export class RigidMotion {
  /**
   * @param terms a, b, c, then the six: shift across and down, turn in the picture, turn to the side and up, zoom
   * @param residual half of the samples lie nearer to it than so many px
   */
  constructor(
    readonly size: Size,
    readonly terms: readonly number[],
    readonly residual: number,
  ) {}

  /** Where a place of a depth goes to: px it moves by, written into `out`. */
  move(x: number, y: number, depth: number, out: Float64Array): void {
    const { width, height } = this.size;
    const half = width / 2;
    const px = (x - width / 2) / half;
    const py = (y - height / 2) / half;
    const [a, b, c, r0, r1, r2, r3, r4, r5] = this.terms;
    const turnU = r0 - r2 * py + r3 * px * px + r4 * px * py + r5 * px;
    const turnV = r1 + r2 * px + r3 * px * py + r4 * py * py + r5 * py;
    // x' stands on both sides: u = (a + c (px + u)) d + turn.
    const share = half / (1 - c * depth);
    out[0] = share * ((a + c * px) * depth + turnU);
    out[1] = share * ((b + c * py) * depth + turnV);
  }

  /** The depth of a place after the camera has moved: its distance is as much shorter as the camera has come nearer. */
  depthAfter(depth: number): number {
    return Math.min(1, Math.max(0, depth / Math.max(0.05, 1 - this.terms[2] * depth)));
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
  return new RigidMotion(size, [...terms], samples.length > 0 ? middle(off) : Infinity);
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
