import type { Size } from '../kind';
import { pictureOf, type Picture8 } from './picture';
import { reducePlane } from './resizePlane';

/** A picture at a smaller size: the mean over what each pixel covers, channel by channel (straight colours of opaque pictures). */
export function reducePicture<P extends Picture8>(picture: P, size: Size): P {
  if (picture.width === size.width && picture.height === size.height) return picture;
  const { width, height, data, alpha } = picture;
  const out = new Uint8Array(size.width * size.height * 4);
  const plane = new Uint16Array(width * height);
  for (let c = 0; c < 4; c++) {
    for (let i = 0; i < plane.length; i++) plane[i] = data[i * 4 + c] * 257;
    const small = reducePlane({ width, height, data: plane }, size);
    for (let i = 0; i < small.length; i++) out[i * 4 + c] = (small[i] + 128) / 257;
  }
  return pictureOf(size, out, alpha) as unknown as P;
}
