import type { Rect } from '@/core/raster/geometry';
import type { Mask } from '@/core/raster/picture';

/**
 * Sets back everything outside a matte: paler and greyer, so that the plate in work is unmistakable.
 * @param warm gives what is inside the colour of cork, where the picture is grey anyway
 */
export function setBack(matte: Mask, rect: Rect, out: Uint8ClampedArray, warm = false): void {
  let o = 0;
  for (let y = rect.top; y < rect.bottom; y++) {
    for (let i = y * matte.width + rect.left; i < y * matte.width + rect.right; i++, o += 4) {
      const away = (255 - matte.data[i]) / 255;
      if (warm) {
        out[o + 1] *= 0.93 + 0.07 * away;
        out[o + 2] *= 0.76 + 0.24 * away;
      }
      if (away === 0) continue;
      const grey = (out[o] * 77 + out[o + 1] * 150 + out[o + 2] * 29) >> 8;
      for (let c = o; c < o + 3; c++) out[c] += ((grey + 116 * 2) / 3 - out[c]) * 0.75 * away;
    }
  }
}
