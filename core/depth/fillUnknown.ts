import type { DepthMap, Mask } from '../raster/picture';

/** The next value lies this far from 0, of the largest. */
const APART = 0.1;
/** No more of the map is unknown. */
const MOST = 0.1;
/** No unknown place holds a square so large, of the map's width: a sky does. */
const WIDEST = 0.06;
/** So many runs of a row a megapixel: what two cameras do not both see lies beside everything; a background shows in few places. */
const RUNS_A_MEGAPIXEL = 1000;

/**
 * Where a map says nothing: many files from two pictures or a scanner write 0 where they know no depth. Told by 0 standing apart
 * from all other values, in many small places. Undefined where 0 is a depth like others.
 * @returns 255 where it is unknown
 */
export function unknownPlaces({ width, height, data }: DepthMap): Mask | undefined {
  let zeros = 0;
  let least = 65535;
  let largest = 0;
  let runs = 0;
  for (let i = 0; i < data.length; i++) {
    const v = data[i];
    if (v === 0) {
      zeros++;
      if (i % width === 0 || data[i - 1] !== 0) runs++;
      continue;
    }
    if (v < least) least = v;
    if (v > largest) largest = v;
  }
  if (zeros === 0 || zeros > MOST * data.length || least < APART * largest) return undefined;
  if (runs < (RUNS_A_MEGAPIXEL * data.length) / 1e6) return undefined;
  if (largestSquare({ width, height, data }) > WIDEST * width) return undefined;
  return { width, height, data: Uint8Array.from(data, (v) => (v === 0 ? 255 : 0)) };
}

/** Side of the largest square of zeros, px. */
function largestSquare({ width, height, data }: DepthMap): number {
  let most = 0;
  let above = new Uint32Array(width);
  let here = new Uint32Array(width);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const corner = x === 0 ? 0 : Math.min(above[x - 1], above[x], here[x - 1]);
      here[x] = data[y * width + x] === 0 ? corner + 1 : 0;
      if (here[x] > most) most = here[x];
    }
    [above, here] = [here, above];
  }
  return most;
}

/**
 * Fills what is unknown with the farther of its neighbours in the row: what one camera alone sees lies behind.
 * Rows of which nothing is known stay as they are.
 * @param unknown 255 where it is
 * @param nearIsLarge whether larger values are nearer
 */
export function fillUnknown({ width, height, data }: DepthMap, unknown: Mask, nearIsLarge: boolean): DepthMap {
  const out = data.slice();
  for (let y = 0; y < height; y++) {
    const end = (y + 1) * width;
    for (let i = y * width; i < end; i++) {
      if (unknown.data[i] === 0) continue;
      const from = i;
      while (i < end && unknown.data[i] !== 0) i++;
      const left = from > y * width ? data[from - 1] : undefined;
      const right = i < end ? data[i] : undefined;
      if (left === undefined && right === undefined) continue;
      const farther = nearIsLarge ? Math.min(left ?? 65535, right ?? 65535) : Math.max(left ?? 0, right ?? 0);
      out.fill(farther, from, i);
    }
  }
  return { width, height, data: out };
}
