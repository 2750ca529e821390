import type { Rect } from './geometry';
import { emptyPicture, sixteenBits, type DepthMap, type Mask, type Picture } from './picture';

/** A rectangle of a picture. */
export function cropPicture<P extends Picture>(picture: P, { left, top, right, bottom }: Rect): P {
  const out = emptyPicture(picture, right - left, bottom - top);
  for (let y = 0; y < out.height; y++) {
    const from = ((top + y) * picture.width + left) * 4;
    out.data.set(picture.data.subarray(from, from + out.width * 4), y * out.width * 4);
  }
  return out;
}

/** A rectangle of a raster of one channel. */
export function cropPlane<T extends Mask | DepthMap>(plane: T, { left, top, right, bottom }: Rect): T {
  const width = right - left;
  const height = bottom - top;
  const data = sixteenBits(plane.data) ? new Uint16Array(width * height) : new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    data.set(plane.data.subarray((top + y) * plane.width + left, (top + y) * plane.width + right), y * width);
  return { width, height, data } as unknown as T;
}
