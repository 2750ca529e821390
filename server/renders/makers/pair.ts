import { ANAGLYPHS, anaglyph, type Anaglyph } from '@/core/packing/anaglyph';
import { overUnder, sideBySide } from '@/core/packing/sideBySide';
import { copyPicture, toEightBits, type Straight } from '@/core/raster/picture';
import { recipeSchema, type Recipe } from '@/core/shot/document';
import { eyePositions } from '@/core/stereo/parallax';
import type { Maker } from './maker';

type PairRecipe = Extract<Recipe, { kind: 'pair' }>;

/** How two views share one picture. */
export type Packing = 'side-by-side' | 'over-under' | Anaglyph;

/** Two views in one picture. */
export function packPair(left: Straight, right: Straight, packing: Packing): Straight {
  if (isAnaglyph(packing)) return anaglyph(toEightBits(left), toEightBits(right), packing);
  return packing === 'side-by-side' ? sideBySide(left, right) : overUnder(left, right);
}

/** A left and a right view, apart or in one picture. */
export const pair: Maker<PairRecipe> = {
  kind: 'pair',
  schema: recipeSchema.options[0],
  size: ({ packing }, { width, height }) => ({ width: packing === 'side-by-side' ? width * 2 : width, height }),
  steps: () => eyePositions(2),
  async run({ packing, format, quality }, shop) {
    const [leftEye, rightEye] = eyePositions(2);
    if (packing === 'left-and-right') {
      await shop.picture({ stem: 'left', format, quality, share: [0.05, 0.5] }, () => shop.view(leftEye));
      await shop.picture({ stem: 'right', format, quality, share: [0.5, 1] }, () => shop.view(rightEye));
      return;
    }
    const stem = packing === 'side-by-side' ? packing : `anaglyph-${packing}`;
    await shop.picture({ stem, format, quality, share: [0.05, 1] }, async () => {
      // A workshop may render each view into the same room.
      const left = copyPicture(shop.view(leftEye));
      await shop.report(0.35, 'Rendering the right view');
      const right = shop.view(rightEye);
      await shop.report(0.6, 'Packing');
      return packPair(left, right, packing);
    });
  },
};

function isAnaglyph(packing: Packing): packing is Anaglyph {
  return (ANAGLYPHS as readonly string[]).includes(packing);
}
