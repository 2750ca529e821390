import type { Rect } from '@/core/raster/geometry';
import type { Mask } from '@/core/raster/picture';
import { setBack } from './setBack';

/** Shows a choice: its edge is drawn in pale cork. @param back what is not chosen is set back */
export function drawChoice(matte: Mask, rect: Rect, out: Uint8ClampedArray, back: boolean): void {
  if (back) setBack(matte, rect, out);
  const { width, height, data } = matte;
  let o = 0;
  for (let y = rect.top; y < rect.bottom; y++) {
    for (let x = rect.left; x < rect.right; x++, o += 4) {
      const i = y * width + x;
      const inside = data[i] >= 128;
      if (inside === data[x < width - 1 ? i + 1 : i] >= 128 && inside === data[y < height - 1 ? i + width : i] >= 128)
        continue;
      out[o] = 255;
      out[o + 1] = 217;
      out[o + 2] = 160;
    }
  }
}
