import { kernels, layOut } from '../kernels/kernels';
import { pictureOf, requireSameSize, type Alpha, type Picture8 } from '../raster/picture';

/** Ways to mix two eyes into one picture for red-cyan glasses. */
export const ANAGLYPHS = [
  'red-cyan-least-squares',
  'red-cyan-grey',
  'red-cyan-half-colour',
  'red-cyan-colour',
] as const;
export type Anaglyph = (typeof ANAGLYPHS)[number];

/**
 * 3 x 6 matrices on sRGB-encoded bytes: rows red, green, blue; columns left r g b, right r g b.
 * Least squares: Dubois, "A projection method to generate anaglyph stereo images", ICASSP 2001, with three decimals;
 * grey is the luma of ITU-R BT.601. The same numbers stand in FFmpeg's stereo3d filter, against which they are tested.
 */
const MATRICES: Record<Anaglyph, readonly number[]> = {
  'red-cyan-least-squares': [
    0.456, 0.5, 0.176, -0.043, -0.088, -0.002, -0.04, -0.038, -0.016, 0.378, 0.734, -0.018, -0.015, -0.021, -0.005,
    -0.072, -0.113, 1.226,
  ],
  'red-cyan-grey': [0.299, 0.587, 0.114, 0, 0, 0, 0, 0, 0, 0.299, 0.587, 0.114, 0, 0, 0, 0.299, 0.587, 0.114],
  'red-cyan-half-colour': [0.299, 0.587, 0.114, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 1],
  'red-cyan-colour': [1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 1],
};

/** Pixels a turn: three pieces of them stay in the processor's nearest cache. */
const BAND = 1 << 12;
const COLUMNS = [
  [0, 1],
  [2, 5],
  [3, 4],
] as const;

/** A matrix as the kernel wants it: see core/kernels/source/anaglyph.ts. */
function pairMatrix(matrix: readonly number[]): Int16Array {
  const fixed = matrix.map((m) => Math.round(m * 16384));
  return Int16Array.from(
    [0, 6, 12].flatMap((row) =>
      COLUMNS.flatMap(([a, b]) => Array.from({ length: 8 }, (_, n) => fixed[row + (n % 2 ? b : a)])),
    ),
  );
}

/**
 * Mixes a left and a right picture into one for red-cyan glasses (red over the left eye).
 * Alpha is the larger of the two. @throws CoreError `size-differs`
 */
export function anaglyph<A extends Alpha>(
  left: Picture8<A>,
  right: Picture8<A>,
  kind: Anaglyph,
  out?: Uint8Array | Uint8ClampedArray,
): Picture8<A> {
  requireSameSize('The left picture', left, 'the right one', right);
  const { width, height } = left;
  const pixels = width * height;
  const data = out ?? new Uint8Array(pixels * 4);
  const { at, buffer } = layOut([BAND * 4 + 16, BAND * 4 + 16, BAND * 4 + 16, 144]);
  new Int16Array(buffer, at[3], 72).set(pairMatrix(MATRICES[kind]));
  const l = new Uint8Array(buffer, at[0], BAND * 4);
  const r = new Uint8Array(buffer, at[1], BAND * 4);
  const mixed = new Uint8Array(buffer, at[2], BAND * 4);
  for (let from = 0; from < pixels; from += BAND) {
    const n = Math.min(BAND, pixels - from);
    l.set(left.data.subarray(from * 4, (from + n) * 4));
    r.set(right.data.subarray(from * 4, (from + n) * 4));
    kernels().mixAnaglyph(at[0], at[1], at[2], (n + 3) & ~3, at[3]);
    data.set(n === BAND ? mixed : mixed.subarray(0, n * 4), from * 4);
  }
  return pictureOf(left, data, left.alpha);
}
