import { isFilled } from '@/core/fill/isFilled';
import type { Rect } from '@/core/raster/geometry';
import type { Mask, Picture8, Straight } from '@/core/raster/picture';

/** Lays stripes (brick and paper, 45 degrees, 5 px) over what a view reveals. */
export function stripeReveal(picture: Picture8, revealed: Mask): void {
  const { width, data: mask } = revealed;
  const { data } = picture;
  for (let i = mask.indexOf(255); i >= 0; i = mask.indexOf(255, i + 1)) {
    const x = i % width;
    const y = (i - x) / width;
    const brick = (x + y) % 10 < 5;
    data[i * 4] = brick ? 154 : 243;
    data[i * 4 + 1] = brick ? 52 : 240;
    data[i * 4 + 2] = brick ? 32 : 234;
    data[i * 4 + 3] = 255;
  }
}

/** Open pixels are striped in brick and paper; filled ones keep their picture within a line of pale cork. */
export function markReveal(
  { width, height, data: mask }: Mask,
  { fill, scale }: { readonly fill: Straight | undefined; readonly scale: number },
  { left, top, right, bottom }: Rect,
  out: Uint8ClampedArray,
): void {
  for (let y = top, o = 0; y < bottom; y++) {
    for (let x = left, i = y * width + x; x < right; x++, i++, o += 4) {
      if (!mask[i]) continue;
      if (isFilled(fill, i, scale)) {
        if (
          x > 0 &&
          mask[i - 1] &&
          x < width - 1 &&
          mask[i + 1] &&
          y > 0 &&
          mask[i - width] &&
          y < height - 1 &&
          mask[i + width]
        )
          continue;
        out[o] = 255;
        out[o + 1] = 217;
        out[o + 2] = 160;
        continue;
      }
      const brick = (x + y) % 10 < 5;
      out[o] = brick ? 154 : 243;
      out[o + 1] = brick ? 52 : 240;
      out[o + 2] = brick ? 32 : 234;
    }
  }
}
