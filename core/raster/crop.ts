import type { Rect } from './geometry';
import { emptyPicture, sixteenBits, type DepthMap, type Mask, type Picture } from './picture';
import { takeRect } from './rows';

/** A rectangle of a picture. */
export function cropPicture<P extends Picture>(picture: P, rect: Rect): P {
  const out = emptyPicture(picture, rect.right - rect.left, rect.bottom - rect.top);
  takeRect(picture.data, out.data, rect, { width: picture.width, samples: 4 });
  return out;
}

/** A rectangle of a raster of one channel. */
export function cropPlane<T extends Mask | DepthMap>(plane: T, rect: Rect): T {
  const width = rect.right - rect.left;
  const height = rect.bottom - rect.top;
  const data = sixteenBits(plane.data) ? new Uint16Array(width * height) : new Uint8Array(width * height);
  takeRect(plane.data, data, rect, { width: plane.width, samples: 1 });
  return { width, height, data } as unknown as T;
}
