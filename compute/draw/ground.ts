import { findRim } from '@/core/matte/rim';
import type { Rect } from '@/core/raster/geometry';
import type { Mask, Picture8 } from '@/core/raster/picture';
import type { Check } from '../lenses/check';

/** A cut, and what lies behind it, shifted by so many px. */
export interface CutOut {
  /** With cleaned edge colours. */
  readonly picture: Picture8;
  readonly matte: Mask;
  readonly behind?: { readonly picture: Picture8; readonly shift: number };
}

/** The cut alone on a ground: its colours over it, or its coverage as grey. @param picture with cleaned edge colours */
export function drawOnGround(
  { picture, matte, behind }: CutOut,
  { ground, colour }: Check,
  rect: Rect,
  out: Uint8ClampedArray,
): void {
  const chosen = [1, 3, 5].map((n) => parseInt(colour.slice(n, n + 2), 16) || 0);
  const { width } = matte;
  let o = 0;
  for (let y = rect.top; y < rect.bottom; y++) {
    for (let x = rect.left; x < rect.right; x++, o += 4) {
      const i = y * width + x;
      const a = matte.data[i];
      const from = behind ? (y * width + Math.min(width - 1, Math.max(0, x - behind.shift))) * 4 : 0;
      const even =
        ground === 'white'
          ? 255
          : ground === 'grey'
            ? 116
            : ground === 'checks'
              ? ((x >> 3) + (y >> 3)) & 1
                ? 150
                : 210
              : 0;
      for (let c = 0; c < 3; c++) {
        const under = behind ? behind.picture.data[from + c] : ground === 'colour' ? chosen[c] : even;
        out[o + c] = ground === 'matte' ? a : (picture.data[i * 4 + c] * a + under * (255 - a)) / 255;
      }
      out[o + 3] = 255;
    }
  }
}

/** Marks in brick where a cut's edge still shows the old background. */
export function markRim(
  { picture, matte, ground }: { readonly picture: Picture8; readonly matte: Mask; readonly ground: Picture8 },
  rect: Rect,
  out: Uint8ClampedArray,
): void {
  const { mask } = findRim(picture, ground, matte);
  let o = 0;
  for (let y = rect.top; y < rect.bottom; y++) {
    for (let x = rect.left; x < rect.right; x++, o += 4)
      if (mask.data[y * mask.width + x]) {
        out[o] = 214;
        out[o + 1] = 62;
        out[o + 2] = 34;
      }
  }
}
