import { findRim } from '@/core/matte/rim';
import type { Rect } from '@/core/raster/geometry';
import type { Mask, Picture8 } from '@/core/raster/picture';

/**
 * Grounds on which a cut is checked: stray pixels hide on the wrong one. Matte is the coverage itself, as grey; behind
 * is what lies behind the cut, shifted.
 */
export const GROUNDS = ['black', 'white', 'grey', 'checks', 'matte', 'colour', 'behind'] as const;
export type Ground = (typeof GROUNDS)[number];

/** How a cut is looked at alone. */
export interface Check {
  readonly ground: Ground;
  /** The chosen colour, as #rrggbb. */
  readonly colour: string;
  /** How far what lies behind is shifted, px at the source's width. */
  readonly shiftPx: number;
  /** Mark pixels that still show the old background's colour. */
  readonly rim: boolean;
}

/** A cut, and what lies behind it, shifted by so many px. */
export interface CutOut {
  /** With cleaned edge colours. */
  readonly picture: Picture8;
  readonly matte: Mask;
  readonly behind?: { readonly picture: Picture8; readonly shift: number };
}

/** The grey of each even ground at a place; of the others it is not asked. */
const EVEN: Record<Ground, (x: number, y: number) => number> = {
  black: () => 0,
  white: () => 255,
  grey: () => 116,
  checks: (x, y) => (((x >> 3) + (y >> 3)) & 1 ? 150 : 210),
  matte: () => 0,
  colour: () => 0,
  behind: () => 0,
};

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
      const even = EVEN[ground](x, y);
      for (let c = 0; c < 3; c++) {
        let under = ground === 'colour' ? chosen[c] : even;
        if (behind) under = behind.picture.data[from + c];
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
