import { z } from 'zod';
import { CoreError } from '../error';
import { sheetFor } from '../lenticular/sheetFor';
import { eyePositions } from '../stereo/parallax';
import { maker } from './recipe';

/** A lenticular print. */
export const sheet = maker({
  kind: 'sheet',
  schema: z.strictObject({
    kind: z.literal('sheet'),
    widthMm: z.number().min(5).max(2000),
    lpi: z.number().min(5).max(400),
    dpi: z.number().min(50).max(5760),
    views: z.number().int().min(2).max(200),
    lensSwap: z.boolean(),
    format: z.enum(['tiff', 'png']),
  }),
  begin: { kind: 'sheet', widthMm: 200, lpi: 75.13, dpi: 720, views: 9, lensSwap: false, format: 'tiff' },
  label: ({ widthMm, lpi, views }) => `Sheet ${widthMm} mm, ${lpi} lpi, ${views} views`,
  size(recipe, handed) {
    const { plan } = sheetFor(recipe, handed);
    const most = Math.floor(plan.columnsPerLens * 4);
    if (recipe.views > plan.columnsPerLens * 4)
      throw new CoreError(
        'bad-sheet',
        `${recipe.views} views cannot be told apart in ${plan.columnsPerLens.toFixed(2)} columns under each lens. Use at most ${most}, better ${Math.floor(plan.columnsPerLens)}.`,
      );
    return { width: plan.columns, height: plan.rows };
  },
  steps: (recipe) => eyePositions(recipe.views),
  async run({ kind, format, ...lens }, shop) {
    const stem = `${kind}-${lens.widthMm}mm-${lens.lpi}lpi-${lens.dpi}dpi`;
    await shop.sheet({ stem, format, lens, eyes: eyePositions(lens.views) });
  },
});
