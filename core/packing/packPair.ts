import { toEightBits, type Straight } from '../raster/picture';
import { ANAGLYPHS, anaglyph, type Anaglyph } from './anaglyph';
import { overUnder, sideBySide } from './sideBySide';

/** How two views share one picture. */
export type Packing = 'side-by-side' | 'over-under' | Anaglyph;

/** Two views in one picture. @throws CoreError `size-differs` */
export function packPair(left: Straight, right: Straight, packing: Packing): Straight {
  if (isAnaglyph(packing)) return anaglyph(toEightBits(left), toEightBits(right), packing);
  return packing === 'side-by-side' ? sideBySide(left, right) : overUnder(left, right);
}

/** Mixes colours; the others lay views beside each other. */
export function isAnaglyph(packing: Packing): packing is Anaglyph {
  return (ANAGLYPHS as readonly string[]).includes(packing);
}
