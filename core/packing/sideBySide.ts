import type { Size } from '../kind';
import { emptyPicture, isDeep, requireSameSize, type Picture } from '../raster/picture';
import { putRect } from '../raster/rows';
import { CoreError } from '../error';

/** How two views may lie in one picture. */
export type Halves = 'side-by-side' | 'over-under';

/** Left beside right in one picture of twice the width, left at the left. @throws CoreError `size-differs`, `bits-differ` */
export const sideBySide = <P extends Picture>(left: P, right: P): P => bothHalves(left, right, 'side-by-side');

/** Left above right in one picture of twice the height. @throws CoreError `size-differs`, `bits-differ` */
export const overUnder = <P extends Picture>(left: P, right: P): P => bothHalves(left, right, 'over-under');

/** The size of a picture that holds two views. */
export const sizeOfBoth = ({ width, height }: Size, way: Halves): Size =>
  way === 'side-by-side' ? { width: 2 * width, height } : { width, height: 2 * height };

/** Puts a view into its half of a picture that holds two. @param nth 0: the left one, or the upper one */
export function putHalf(both: Picture, { width, height, data }: Picture, way: Halves, nth: 0 | 1): void {
  const left = way === 'side-by-side' ? nth * width : 0;
  const top = way === 'side-by-side' ? 0 : nth * height;
  const rect = { left, top, right: left + width, bottom: top + height };
  putRect(data, both.data, rect, { width: both.width, samples: 4 });
}

function bothHalves<P extends Picture>(left: P, right: P, way: Halves): P {
  requireAlike(left, right);
  const { width, height } = sizeOfBoth(left, way);
  const both = emptyPicture(left, width, height);
  putHalf(both, left, way, 0);
  putHalf(both, right, way, 1);
  return both;
}

function requireAlike(left: Picture, right: Picture): void {
  requireSameSize('The left picture', left, 'the right one', right);
  if (isDeep(left) !== isDeep(right))
    throw new CoreError(
      'bits-differ',
      'One picture has 8 bits a channel and the other 16. Save both with the same number of bits.',
    );
  if (left.alpha !== right.alpha)
    throw new CoreError(
      'alpha-differs',
      'One picture’s colours are multiplied by its alpha and the other’s are not. Give both in straight colours.',
    );
}
