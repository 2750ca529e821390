import { recipeSchema, type Recipe } from '@/core/shot/document';
import { eyePositions } from '@/core/stereo/parallax';
import type { Maker } from './maker';

type ViewsRecipe = Extract<Recipe, { kind: 'views' }>;

/** Numbered views, leftmost eye first. */
export const views: Maker<ViewsRecipe> = {
  kind: 'views',
  schema: recipeSchema.options[1],
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
};
