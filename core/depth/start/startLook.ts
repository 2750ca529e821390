import { proposePieces, type Pieces } from '../../raster/pieces';
import { labOf } from '../../raster/lab';
import type { Picture8 } from '../../raster/picture';
import { reducePicture } from '../../raster/reducePicture';

/** A picture as cues look at it: its longer side so many px. */
const SIDE = 480;
/** Regions: how coarse, and how small they may be, px of such a picture. */
const SCALE = 200;
const SMALLEST = 400;

export interface StartLook {
  readonly width: number;
  readonly height: number;
  readonly picture: Picture8;
  /** L, a, b, interleaved. */
  readonly lab: Float32Array;
  readonly regions: Pieces;
}

/** Makes a picture ready for cues. Smaller ones are looked at as they are. */
export function startLook(picture: Picture8): StartLook {
  const scale = Math.min(1, SIDE / Math.max(picture.width, picture.height));
  const size = {
    width: Math.max(1, Math.round(picture.width * scale)),
    height: Math.max(1, Math.round(picture.height * scale)),
  };
  const small = reducePicture(picture, size);
  const smallest = Math.max(1, Math.round((SMALLEST * size.width * size.height) / (SIDE * SIDE * 0.625)));
  return { ...size, picture: small, lab: labOf(small), regions: proposePieces(small, { scale: SCALE, smallest }) };
}

/** The mean of a plane over each region, at every pixel of it. */
export function byRegion(plane: Float32Array, { count, of: regionAt }: Pieces): Float32Array {
  const sums = new Float64Array(count);
  const many = new Float64Array(count);
  for (let i = 0; i < plane.length; i++) {
    sums[regionAt[i]] += plane[i];
    many[regionAt[i]]++;
  }
  return plane.map((_, i) => sums[regionAt[i]] / many[regionAt[i]]);
}

/** Each value's rank among all, 0 to 1; equal ones have the same, in the middle of theirs. */
export function ranked(plane: Float32Array): Float32Array {
  const sorted = Float32Array.from(plane).sort();
  /** How many values are less, or less or equal. */
  const below = (value: number, equal: boolean): number => {
    let [low, high] = [0, sorted.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (sorted[middle] < value || (equal && sorted[middle] === value)) low = middle + 1;
      else high = middle;
    }
    return low;
  };
  return plane.map((v) => (below(v, false) + below(v, true)) / 2 / sorted.length);
}
