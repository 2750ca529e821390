import { bitsSet, type Census } from './census';
import type { Ranges } from './ranges';

/**
 * What a match beyond the other picture's border costs: more than the worst one of two textures that have nothing to do
 * with each other.
 */
const BEYOND = 60;
/** Of a difference in colour (sum of three 8-bit steps) a share counts, up to so much. */
const COLOUR_SHARE = 1 / 8;
const COLOUR_MOST = 24;

/** A picture as it is matched. */
export interface Matched {
  readonly census: Census;
  /** RGBA of 8 bits. */
  readonly data: Uint8Array | Uint8ClampedArray;
}

/**
 * What it costs to match each pixel of the left picture with each of its disparities: by census, and by colour where
 * textures say little.
 * Source of the mixture: Mei and others, "On building an accurate stereo matching system on graphics hardware", 2011 (AD-Census).
 */
export function matchCosts(left: Matched, right: Matched, { width, height, first, last, at }: Ranges): Uint8Array {
  const costs = new Uint8Array(at[width * height]);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const low = left.census[2 * i];
      const high = left.census[2 * i + 1];
      const r = left.data[4 * i];
      const g = left.data[4 * i + 1];
      const b = left.data[4 * i + 2];
      const most = last[i];
      for (let d = first[i], k = at[i]; d <= most; d++, k++) {
        const u = x - d;
        if (u < 0 || u >= width) {
          costs[k] = BEYOND;
          continue;
        }
        const j = i - d;
        const p = 4 * j;
        const colour =
          (Math.abs(r - right.data[p]) + Math.abs(g - right.data[p + 1]) + Math.abs(b - right.data[p + 2])) *
          COLOUR_SHARE;
        costs[k] =
          bitsSet(low ^ right.census[2 * j]) +
          bitsSet(high ^ right.census[2 * j + 1]) +
          (colour < COLOUR_MOST ? colour : COLOUR_MOST);
      }
    }
  return costs;
}
