/** Disparities that are looked at: for every pixel from the first to the last, and where they lie in lists of all of them. */
export interface Ranges {
  readonly width: number;
  readonly height: number;
  readonly first: Int16Array;
  readonly last: Int16Array;
  /** Where a pixel's disparities begin; one more, the end. */
  readonly at: Uint32Array;
}

function laidOut(width: number, height: number, first: Int16Array, last: Int16Array): Ranges {
  const at = new Uint32Array(width * height + 1);
  for (let i = 0; i < first.length; i++) at[i + 1] = at[i] + last[i] - first[i] + 1;
  return { width, height, first, last, at };
}

/** The same disparities everywhere. */
export function wholeRange(width: number, height: number, least: number, most: number): Ranges {
  const n = width * height;
  return laidOut(width, height, new Int16Array(n).fill(least), new Int16Array(n).fill(most));
}

/** Around what was found at half the size, beyond the least and the greatest of its surroundings, so many px more. */
const AROUND = 2;
const MORE = 3;
/** No pixel looks at more than so many, nearest to what was found. */
const MOST = 160;

/**
 * Disparities around those that were found at half the size.
 * Source: Rothermel and others, "SURE: photogrammetric surface reconstruction from imagery", 2012 (ranges by the surroundings'
 * least and greatest disparity).
 */
export function narrowed(
  found: Float32Array,
  half: { readonly width: number; readonly height: number },
  width: number,
  height: number,
): Ranges {
  const least = extreme(found, half.width, half.height, Math.min);
  const most = extreme(found, half.width, half.height, Math.max);
  const first = new Int16Array(width * height);
  const last = new Int16Array(width * height);
  for (let y = 0, i = 0; y < height; y++) {
    const row = Math.min(half.height - 1, y >> 1) * half.width;
    for (let x = 0; x < width; x++, i++) {
      const j = row + Math.min(half.width - 1, x >> 1);
      const middle = Math.round(2 * found[j]);
      first[i] = Math.max(Math.floor(2 * least[j]) - MORE, middle - MOST / 2);
      last[i] = Math.min(Math.ceil(2 * most[j]) + MORE, middle + MOST / 2);
    }
  }
  return laidOut(width, height, first, last);
}

function extreme(
  plane: Float32Array,
  width: number,
  height: number,
  pick: (a: number, b: number) => number,
): Float32Array {
  const across = new Float32Array(plane.length);
  const out = new Float32Array(plane.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let v = plane[y * width + x];
      for (let u = Math.max(0, x - AROUND); u <= Math.min(width - 1, x + AROUND); u++)
        v = pick(v, plane[y * width + u]);
      across[y * width + x] = v;
    }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let v = across[y * width + x];
      for (let w = Math.max(0, y - AROUND); w <= Math.min(height - 1, y + AROUND); w++)
        v = pick(v, across[w * width + x]);
      out[y * width + x] = v;
    }
  return out;
}
