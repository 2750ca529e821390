import { z } from 'zod';
import { eyePositions } from '../stereo/parallax';
import { FORMATS, maker } from './recipe';

/** Numbered views, leftmost eye first. */
export const views = maker({
  kind: 'views',
  schema: z.strictObject({
    kind: z.literal('views'),
    views: z.number().int().min(3).max(200),
    format: z.enum(FORMATS),
    quality: z.number().int().min(50).max(100),
  }),
  begin: { kind: 'views', views: 9, format: 'png', quality: 92 },
  label: (recipe) => `${recipe.views} views`,
  size: (_recipe, handed) => handed,
  steps: (recipe) => eyePositions(recipe.views),
  async run(recipe, shop) {
    const eyes = eyePositions(recipe.views);
    const { format, quality } = recipe;
    for (const [n, eye] of eyes.entries()) {
      const stem = `view_${String(n + 1).padStart(3, '0')}`;
      const share = [n / eyes.length, (n + 1) / eyes.length] as const;
      await shop.picture({ stem, format, quality, share }, () => shop.view(eye));
    }
  },
});
