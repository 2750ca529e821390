import { kernels } from '../kernels/kernels';
import type { ColumnRange } from '../raster/geometry';
import { sixteenBits, type Mask, type Picture } from '../raster/picture';

/** What a strip leaves on a revealed pixel (core/kernels/source/strips.ts): pixel, alpha, four samples; bytes. */
export const FRAGMENT_BYTES = 16;

/** Takes what a band of a view has left. @param at where in the kernels' memory it lies, its number first */
export function fragmentsOf(at: number): Uint32Array {
  const { buffer } = kernels().memory;
  const count = new Int32Array(buffer, at, 1)[0];
  return new Uint32Array(buffer, at + FRAGMENT_BYTES, (count * FRAGMENT_BYTES) / 4).slice();
}

/**
 * Draws it over what was revealed and has been filled; a px that shows mostly what stands in front is not revealed any more.
 * @param columns of the picture that were drawn: pixels count by these
 * @param kept where what is revealed stays clear: then what covers less than half is left out
 * @returns how many are not
 */
export function drawFragments(
  { picture: { width, data }, revealed }: { readonly picture: Picture; readonly revealed: Mask },
  fragments: Uint32Array,
  { left, right }: ColumnRange,
  kept: boolean,
): number {
  const drawn = right - left;
  const alphas = new Float32Array(fragments.buffer);
  const samples = new Uint16Array(fragments.buffer);
  // Of 8 bits they are 256 times as fine.
  const [unit, most] = sixteenBits(data) ? [1, 65535] : [1 / 256, 255];
  let covered = 0;
  for (let n = 0; n < fragments.length; n += 4) {
    const pixel = fragments[n];
    const i = drawn === width ? pixel : ((pixel / drawn) | 0) * width + left + (pixel % drawn);
    const at = i * 4;
    if (alphas[n + 1] < 0.5) {
      if (kept) continue;
    } else if (revealed.data[i] !== 0) {
      revealed.data[i] = 0;
      covered++;
    }
    const rest = 1 - alphas[n + 1];
    const from = n * 2 + 4;
    for (let c = 0; c < 4; c++) {
      const value = samples[from + c] * unit + rest * data[at + c] + 0.5;
      data[at + c] = value < most ? value : most;
    }
  }
  return covered;
}
