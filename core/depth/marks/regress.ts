import { covariance, scaled, type At, type Reach } from './covariance';
import { FEATURES } from './nodes';
import { Cholesky } from './cholesky';
import type { Mark, Samples } from './samples';

/** What is known of two marks beside each other. */
export interface Relation {
  /** same: as deep as; nearer: nearer than. */
  readonly kind: 'same' | 'nearer';
  /** Marks, by number. */
  readonly mark: number;
  readonly than: number;
  /** By so much nearer, of depth. @default 0.04 */
  readonly by?: number;
}

/** What the marks say of all places: each sample's part in them. */
export interface Regression {
  readonly reach: Reach;
  /** The samples' features over their lengths. */
  readonly features: Float32Array;
  readonly weights: Float64Array;
  /** Mean error of a mark's depth as the others foretell it, of depth; takes longer than the regression itself. */
  leftOut(): number;
}

const NOISE = 3e-4;
const NOISE_SAME = 1e-5;
/** A place that is said to be nearer is nearer by so much, unless it is said by how much. */
const MARGIN = 0.04;
const ROUNDS = 3;

/** One thing known: the sum of some samples' depths, by their shares. */
interface Row {
  readonly at: readonly number[];
  readonly shares: readonly number[];
  readonly value: number;
  readonly noise: number;
  /** The mark that it comes from; -1 for relations. */
  readonly mark: number;
}

/**
 * Gaussian process regression of the marks' depths, of which there is one at least; relations are rows of their own.
 */
export function regress(
  samples: Samples,
  marks: readonly Mark[],
  relations: readonly Relation[],
  reach: Reach,
): Regression {
  const known: Row[] = [];
  for (let n = 0; n < samples.count; n++) {
    const { depth } = marks[samples.marks[n]];
    if (depth !== undefined)
      known.push({
        at: [n],
        shares: [1],
        value: depth,
        noise: NOISE * (1 + 10 / samples.pixels[n]),
        mark: samples.marks[n],
      });
  }
  const features = scaled(samples.features, reach);
  const same = relations.filter(({ kind }) => kind === 'same').flatMap((r) => difference(samples, r, 0));
  const nearer = relations.filter(({ kind }) => kind === 'nearer');
  const held = new Set<Relation>();
  for (let round = 0; ; round++) {
    const rows = [...known, ...same, ...[...held].flatMap((r) => difference(samples, r, r.by ?? MARGIN))];
    const { weights, leftOut } = solved(rows, samples.count, features, reach);
    const answer: Regression = { reach, features, weights, leftOut };
    if (round === ROUNDS) return answer;
    // What is nearer by itself, by half of what is asked, is left as it is.
    const broken = nearer.filter((r) => !held.has(r) && gap(answer, samples, r) < (r.by ?? MARGIN) / 2);
    if (broken.length === 0) return answer;
    broken.forEach((r) => held.add(r));
  }
}

/** What the regression says of a place. */
export function depthAt({ features, weights, reach }: Regression, at: At): number {
  let sum = 0;
  for (let n = 0; n < weights.length; n++) sum += weights[n] * covariance(at, { features, first: n * FEATURES }, reach);
  return sum;
}

const samplesOfMark = (samples: Samples, mark: number): number[] =>
  [...samples.marks.keys()].filter((n) => samples.marks[n] === mark);

function gap(answer: Regression, samples: Samples, { mark, than }: Relation): number {
  const mean = (which: number): number => {
    const at = samplesOfMark(samples, which);
    return (
      at.reduce((sum, n) => sum + depthAt(answer, { features: answer.features, first: n * FEATURES }), 0) / at.length
    );
  };
  return mean(mark) - mean(than);
}

function difference(samples: Samples, { mark, than }: Relation, value: number): Row[] {
  const a = samplesOfMark(samples, mark);
  const b = samplesOfMark(samples, than);
  if (a.length === 0 || b.length === 0) return [];
  const shares = [...a.map(() => 1 / a.length), ...b.map(() => -1 / b.length)];
  return [{ at: [...a, ...b], shares, value, noise: NOISE_SAME, mark: -1 }];
}

function solved(
  rows: readonly Row[],
  count: number,
  features: Float32Array,
  reach: Reach,
): { readonly weights: Float64Array; leftOut(): number } {
  const many = rows.length;
  const between = new Float64Array(count * count);
  for (let i = 0; i < count; i++)
    for (let j = 0; j <= i; j++)
      between[i * count + j] = between[j * count + i] = covariance(
        { features, first: i * FEATURES },
        { features, first: j * FEATURES },
        reach,
      );
  const matrix = new Float64Array(many * many);
  for (let i = 0; i < many; i++)
    for (let j = 0; j <= i; j++) {
      let sum = i === j ? rows[i].noise : 0;
      const [p, q] = [rows[i], rows[j]];
      for (let a = 0; a < p.at.length; a++)
        for (let b = 0; b < q.at.length; b++) sum += p.shares[a] * q.shares[b] * between[p.at[a] * count + q.at[b]];
      matrix[i * many + j] = sum;
    }
  const factor = new Cholesky(matrix, many);
  const answer = factor.solve(Float64Array.from(rows, ({ value }) => value));
  const weights = new Float64Array(count);
  rows.forEach(({ at, shares }, i) => {
    at.forEach((n, k) => {
      weights[n] += shares[k] * answer[i];
    });
  });
  return { weights, leftOut: () => leftOutError(rows, factor, answer) };
}

/**
 * How far off each mark is when only the others are known, without solving again: of the rows R of a mark the error is
 * (C_RR)^-1 (C y)_R, C being the inverse (Rasmussen and Williams, section 5.4.2, by blocks).
 */
function leftOutError(rows: readonly Row[], factor: Cholesky, answer: Float64Array): number {
  const groups = new Map<number, number[]>();
  rows.forEach(({ mark }, i) => {
    if (mark >= 0) groups.set(mark, [...(groups.get(mark) ?? []), i]);
  });
  if (groups.size < 2) return 0;
  const inverse = factor.inverse();
  const many = rows.length;
  let sum = 0;
  for (const group of groups.values()) {
    const block = Float64Array.from({ length: group.length ** 2 }, (_, k) => {
      const [i, j] = [group[Math.floor(k / group.length)], group[k % group.length]];
      return inverse[i * many + j];
    });
    const errors = new Cholesky(block, group.length).solve(Float64Array.from(group, (i) => answer[i]));
    sum += errors.reduce((a, b) => a + Math.abs(b), 0) / group.length;
  }
  return sum / groups.size;
}
