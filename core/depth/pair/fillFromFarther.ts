import { UNKNOWN } from './disparity';

/**
 * Fills what is unknown from the farther side: what only one eye sees belongs to what lies behind, and eyes stand side by
 * side, so it is looked for along rows. What neighbouring rows say is brought together then: rows alone would leave streaks.
 * Source: Hirschmueller, "Stereo processing by semiglobal matching and mutual information", PAMI 30(2), 2008, section 2.5,
 * for the farther side.
 */
export function fillFromFarther(disparity: Float32Array, width: number, height: number): Float32Array {
  const out = disparity.slice();
  const filled = new Uint8Array(out.length);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let x = 0; x < width;) {
      if (disparity[row + x] !== UNKNOWN) {
        x++;
        continue;
      }
      let end = x;
      while (end < width && disparity[row + end] === UNKNOWN) end++;
      const left = x > 0 ? disparity[row + x - 1] : Infinity;
      const right = end < width ? disparity[row + end] : Infinity;
      out.fill(Math.min(left, right), row + x, row + end);
      filled.fill(1, row + x, row + end);
      x = end;
    }
  }
  // A row of which nothing is known takes that of the next one that is.
  for (let y = 1; y < height; y++)
    if (out[y * width] === Infinity) out.copyWithin(y * width, (y - 1) * width, y * width);
  for (let y = height - 2; y >= 0; y--)
    if (out[y * width] === Infinity) out.copyWithin(y * width, (y + 1) * width, (y + 2) * width);
  if (out[0] === Infinity) out.fill(0);
  return evened(middled(out, filled, width, height), filled, width, height);
}

/** So many rows up and down are asked for the one in the middle of what they say. */
const ROWS = 5;

/** Filled places take the median of the filled ones above and below. */
function middled(plane: Float32Array, filled: Uint8Array, width: number, height: number): Float32Array {
  const out = plane.slice();
  const values: number[] = [];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (!filled[i]) continue;
      values.length = 0;
      for (let v = Math.max(0, y - ROWS); v <= Math.min(height - 1, y + ROWS); v++)
        if (filled[v * width + x]) values.push(plane[v * width + x]);
      values.sort((a, b) => a - b);
      out[i] = values[values.length >> 1];
    }
  return out;
}

/** Filled places so near to each other, px, that differ by less than so much, are one ground. */
const AROUND = 12;
const ALIKE = 9;

/** Filled places take the mean of the filled ones of their ground: first down the columns, then along the rows. */
function evened(plane: Float32Array, filled: Uint8Array, width: number, height: number): Float32Array {
  let from = plane;
  for (const stride of [width, 1, width]) {
    const many = stride === 1 ? width : height;
    const to = from.slice();
    for (let i = 0; i < from.length; i++) {
      if (!filled[i]) continue;
      const at = stride === 1 ? i % width : Math.floor(i / width);
      let [sum, count] = [0, 0];
      for (let n = -Math.min(AROUND, at); n <= Math.min(AROUND, many - 1 - at); n++) {
        const j = i + n * stride;
        if (!filled[j] || Math.abs(from[j] - from[i]) > ALIKE) continue;
        sum += from[j];
        count++;
      }
      to[i] = sum / count;
    }
    from = to;
  }
  return from;
}
