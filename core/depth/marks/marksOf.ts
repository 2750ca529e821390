import { CoreError } from '../../error';
import type { Straight } from '../../raster/picture';
import type { Mark } from './samples';

/** So many marks make the regression slow; a noisy picture of marks would have thousands. */
const MOST = 2000;

/**
 * The marks of a picture: where it is opaque its grey value (red) is the depth, and each connected area of one value, also by its
 * corners, is a mark.
 * @throws CoreError `no-marks`, `too-many-marks`
 */
export function marksOf({ width, height, data, bits }: Straight): Mark[] {
  const most = bits === 16 ? 65535 : 255;
  const opaque = (i: number): boolean => data[i * 4 + 3] * 2 > most;
  const seen = new Uint8Array(width * height);
  const marks: Mark[] = [];
  for (let first = 0; first < seen.length; first++) {
    if (seen[first] || !opaque(first)) continue;
    const value = data[first * 4];
    const pixels = [first];
    seen[first] = 1;
    for (let k = 0; k < pixels.length; k++) {
      const i = pixels[k];
      const x = i % width;
      for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++)
        for (const j of [i - x + u - width, i - x + u, i - x + u + width]) {
          if (j < 0 || j >= seen.length || seen[j] || !opaque(j) || data[j * 4] !== value) continue;
          seen[j] = 1;
          pixels.push(j);
        }
    }
    marks.push({ pixels, depth: value / most });
    if (marks.length > MOST)
      throw new CoreError(
        'too-many-marks',
        `There are more than ${MOST} marks: each connected area of one grey value is one. Draw them with a hard pencil, each of one value.`,
      );
  }
  if (marks.length === 0)
    throw new CoreError(
      'no-marks',
      'There are no marks: nothing is opaque. A mark is an opaque stroke whose grey value is its depth.',
    );
  return marks;
}
