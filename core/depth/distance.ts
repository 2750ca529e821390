import { CoreError } from '../error';
import type { FloatPlane } from '../formats/floatPlane';
import type { DepthMap } from '../raster/picture';

/** How far away white and black are, in whatever unit. */
export interface DistanceRange {
  readonly near: number;
  readonly far: number;
}

/** What the numbers of a float map are. */
export type FloatMeaning =
  /** Depth, 0 farthest to 1 nearest. */
  | { readonly kind: 'depth' }
  /** Distance from the eye; infinite is as far as can be. */
  | ({ readonly kind: 'distance' } & DistanceRange)
  /** One over the distance, or disparity: the nearest value and the farthest one are given. */
  | { readonly kind: 'inverse'; readonly near: number; readonly far: number };

/** @throws CoreError `bad-range` */
export function requireRange({ near, far }: DistanceRange): void {
  if (!(near > 0) || !(far > near) || !Number.isFinite(near))
    throw new CoreError(
      'bad-range',
      `The nearest distance must be more than 0 and the farthest one greater than it; ${near} and ${far} are not.`,
    );
}

/**
 * Numbers of a float map as depth, linear in inverse distance: 1/Z = d/near + (1 - d)/far. What lies beyond the range is
 * cut off; what is no number is as far as can be.
 * @throws CoreError `bad-range`; `not-depth` where they are said to be depth and are not
 */
export function depthOfFloats({ width, height, data }: FloatPlane, meaning: FloatMeaning): DepthMap {
  const depthOf = meaningOf(meaning);
  if (meaning.kind === 'depth') {
    const beyond = data.reduce((most, v) => (Number.isFinite(v) ? Math.max(most, v, 1 - v) : most), 1);
    if (beyond > 1 + 1e-6)
      throw new CoreError(
        'not-depth',
        `Its values are no depths of 0 to 1 (one lies ${(beyond - 1).toPrecision(3)} beyond). ` +
          'If they are distances, say how far the nearest and the farthest are.',
      );
  }
  const out = new Uint16Array(data.length);
  for (let i = 0; i < out.length; i++) {
    const depth = depthOf(data[i]);
    out[i] = depth > 0 ? Math.min(1, depth) * 65535 + 0.5 : 0;
  }
  return { width, height, data: out };
}

function meaningOf(meaning: FloatMeaning): (value: number) => number {
  if (meaning.kind === 'depth') return (v) => v;
  const { near, far } = meaning;
  if (meaning.kind === 'inverse') {
    if (near === far) throw new CoreError('bad-range', 'The nearest and the farthest value must differ.');
    return (v) => (v - far) / (near - far);
  }
  requireRange(meaning);
  const [nearest, farthest] = [1 / near, 1 / far];
  return (z) => (z > 0 ? (1 / z - farthest) / (nearest - farthest) : 0);
}

/** A depth map as numbers from 0 farthest to 1 nearest. */
export const depthFloats = ({ width, height, data }: DepthMap): FloatPlane => ({
  width,
  height,
  data: Float32Array.from(data, (v) => v / 65535),
});

/** A depth map as distances. @throws CoreError `bad-range` */
export function distancesOf({ width, height, data }: DepthMap, range: DistanceRange): FloatPlane {
  requireRange(range);
  const [nearest, farthest] = [1 / range.near, 1 / range.far];
  return {
    width,
    height,
    data: Float32Array.from(data, (v) => 1 / (farthest + (v / 65535) * (nearest - farthest))),
  };
}

/** What a written map's values mean, in a sentence of ASCII. */
export const meaningSentence = (range: DistanceRange | undefined): string =>
  range
    ? `Distance from the eye, ${range.near} nearest to ${range.far} farthest, in the unit in which these were given.`
    : 'Depth, white (1) nearest to black (0) farthest, linear in inverse distance.';
