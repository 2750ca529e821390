import { emptyPicture, isDeep, requireSameSize, type Picture } from '../raster/picture';
import { CoreError } from '../error';

/** Left beside right in one picture of twice the width, left at the left. @throws CoreError `size-differs`, `bits-differ` */
export function sideBySide<P extends Picture>(left: P, right: P): P {
  requireAlike(left, right);
  const { width, height } = left;
  const out = emptyPicture(left, width * 2, height);
  for (let y = 0; y < height; y++) {
    out.data.set(left.data.subarray(y * width * 4, (y + 1) * width * 4), y * width * 8);
    out.data.set(right.data.subarray(y * width * 4, (y + 1) * width * 4), y * width * 8 + width * 4);
  }
  return out;
}

/** Left above right in one picture of twice the height. @throws CoreError `size-differs`, `bits-differ` */
export function overUnder<P extends Picture>(left: P, right: P): P {
  requireAlike(left, right);
  const out = emptyPicture(left, left.width, left.height * 2);
  out.data.set(left.data, 0);
  out.data.set(right.data, left.data.length);
  return out;
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
