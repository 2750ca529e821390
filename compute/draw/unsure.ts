import type { Rect } from '@/core/raster/geometry';
import type { Mask } from '@/core/raster/picture';

/** Px from one line of a hatching to the next, and how thick each is. */
const APART = 6;
const THICK = 2;

/** Hatches what is unsure, 255, in pale cork with a dark edge; the picture stays seen between the lines. */
export function hatchUnsure({ width, data }: Mask, { left, top, right, bottom }: Rect, out: Uint8ClampedArray): void {
  for (let y = top, o = 0; y < bottom; y++)
    for (let x = left; x < right; x++, o += 4) {
      if (data[y * width + x] < 128) continue;
      const across = (x + y) % APART;
      if (across > THICK) continue;
      const dark = across === THICK;
      out[o] = dark ? 75 : 255;
      out[o + 1] = dark ? 42 : 217;
      out[o + 2] = dark ? 10 : 160;
    }
}
