import type { Rect } from '@/core/raster/geometry';
import type { Stretch } from '@/core/stereo/stretch';

/** Stretched pixels glow: pale from a fifth wider, brick from twice as wide. */
export function markStretch(
  { factor }: Stretch,
  width: number,
  { left, top, right, bottom }: Rect,
  out: Uint8ClampedArray,
): void {
  for (let y = top, o = 0; y < bottom; y++) {
    for (let x = left, i = y * width + x; x < right; x++, i++, o += 4) {
      const f = factor[i];
      if (f < 1.2) continue;
      const t = Math.min(1, (f - 1.2) / 0.8);
      out[o] += (214 - out[o]) * (0.45 + 0.5 * t);
      out[o + 1] += (190 - 128 * t - out[o + 1]) * (0.45 + 0.5 * t);
      out[o + 2] += (60 - 26 * t - out[o + 2]) * (0.45 + 0.5 * t);
    }
  }
}
