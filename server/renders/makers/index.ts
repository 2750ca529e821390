import type { Recipe } from '@/core/shot/document';
import type { Maker } from './maker';
import { pair } from './pair';
import { sheet } from './sheet';
import { views } from './views';

export type { Maker, PictureOrder, Workshop } from './maker';

/**
 * Every kind of recipe that can be made. A new one is a file in this folder, a name in this list, and its schema among
 * the document's recipes.
 */
const MAKERS = [pair, views, sheet] as const;

/** The maker of a recipe. */
export const makerOf = (recipe: Recipe): Maker<Recipe> =>
  MAKERS.find(({ kind }) => kind === recipe.kind) as unknown as Maker<Recipe>;
