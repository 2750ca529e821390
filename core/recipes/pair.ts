import { z } from 'zod';
import { ANAGLYPHS } from '../packing/anaglyph';
import { packPair } from '../packing/packPair';
import { copyPicture } from '../raster/picture';
import { eyePositions } from '../stereo/parallax';
import { FORMATS, maker } from './recipe';

const PACKINGS = ['left-and-right', 'side-by-side', ...ANAGLYPHS] as const;

const NAMES: Record<(typeof PACKINGS)[number], string> = {
  'left-and-right': 'Left and right',
  'side-by-side': 'Side by side',
  'red-cyan-least-squares': 'Anaglyph, least squares',
  'red-cyan-grey': 'Anaglyph, grey',
  'red-cyan-half-colour': 'Anaglyph, half colour',
  'red-cyan-colour': 'Anaglyph, full colour',
};

/** A left and a right view, apart or in one picture. */
export const pair = maker({
  kind: 'pair',
  schema: z.strictObject({
    kind: z.literal('pair'),
    packing: z.enum(PACKINGS),
    format: z.enum(FORMATS),
    quality: z.number().int().min(50).max(100),
  }),
  begin: { kind: 'pair', packing: 'left-and-right', format: 'png', quality: 92 },
  label: ({ packing }) => NAMES[packing],
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
});
