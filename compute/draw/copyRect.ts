import type { Rect } from '@/core/raster/geometry';
import type { Picture8 } from '@/core/raster/picture';

/** Copies a rectangle of a picture. */
export function copyRect(picture: Picture8, rect: Rect, out: Uint8ClampedArray): void {
  const bytes = (rect.right - rect.left) * 4;
  for (let y = rect.top; y < rect.bottom; y++) {
    const from = (y * picture.width + rect.left) * 4;
    out.set(picture.data.subarray(from, from + bytes), (y - rect.top) * bytes);
  }
}
