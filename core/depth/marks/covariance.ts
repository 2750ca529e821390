import { FEATURES } from './nodes';

/** How far likeness reaches. Lengths are in the units of the features. */
export interface Reach {
  /** Of place, across and down. */
  readonly x: number;
  readonly y: number;
  /** Of lightness and of colour. */
  readonly light: number;
  readonly colour: number;
}

export const REACH: Reach = { x: 0.6, y: 0.35, light: 0.25, colour: 0.25 };
/** What is asked in the end, in the mean: likeness that reaches less and more far, in place and in colour. */
export const REACHES: readonly Reach[] = [
  REACH,
  { ...REACH, x: 0.7 * REACH.x, y: 0.7 * REACH.y },
  { ...REACH, x: 1.3 * REACH.x, y: 1.3 * REACH.y },
  ...[0.18, 0.3, 0.5].map((colour) => ({ ...REACH, light: colour, colour })),
];

const CONTEXT = 0.5;
const TEXTURE = 1.5;
/** Of the covariance: what goes by place alone, and what goes by place and look. */
export const BY_PLACE = 0.008;
export const BY_LOOK = 0.05;
/** Place counts less where look counts too: its squared distance times this. */
export const PLACE_BESIDE_LOOK = 0.49;
/** Planes through here cost nothing: they carry what is marked on, far beyond the marks. */
export const MIDDLE: readonly [number, number] = [0.5, 0.3];

/** Features over their lengths, so that all distances are plain ones. */
export function scaled(features: Float32Array, reach: Reach): Float32Array {
  const lengths = [reach.x, reach.y, reach.light, reach.colour, reach.colour, CONTEXT, CONTEXT, CONTEXT, TEXTURE];
  return features.map((v, i) => v / lengths[i % FEATURES]);
}

/** Features over their lengths, and where a place's begin among them. */
export interface At {
  readonly features: Float32Array;
  readonly first: number;
}

/**
 * How alike the depths of two places are, before anything is known of them.
 * Source: Rasmussen and Williams, "Gaussian processes for machine learning", MIT Press 2006, chapters 2 and 4.
 */
export function covariance({ features: a, first: i }: At, { features: b, first: j }: At, reach: Reach): number {
  const dx = a[i] - b[j];
  const dy = a[i + 1] - b[j + 1];
  const place = dx * dx + dy * dy;
  let look = 0;
  for (let c = 2; c < FEATURES; c++) look += (a[i + c] - b[j + c]) ** 2;
  return (
    BY_PLACE * Math.exp(-place / 2) +
    BY_LOOK * Math.exp(-(PLACE_BESIDE_LOOK * place + look) / 2) +
    1 +
    (a[i] * reach.x - MIDDLE[0]) * (b[j] * reach.x - MIDDLE[0]) +
    (a[i + 1] * reach.y - MIDDLE[1]) * (b[j + 1] * reach.y - MIDDLE[1])
  );
}
