import { z } from 'zod';
import { schemaOf } from '../kind';
import { pair } from './pair';
import type { Maker } from './recipe';
import { sheet } from './sheet';
import { video } from './video';
import { views } from './views';

export {
  FORMATS,
  VIDEO_FORMATS,
  type PictureFormat,
  type PictureOrder,
  type SeeingHow,
  type SheetOrder,
  type VideoFormat,
  type VideoOrder,
  type Workshop,
} from './recipe';

/** Every kind of recipe that can be made. A new one is a file in this folder and a name in this list. */
const MAKERS = [pair, views, sheet, video] as const;

/** What to make for one hand-over. */
export const recipeSchema = schemaOf(MAKERS);
export type Recipe = z.infer<typeof recipeSchema>;
/** A recipe of every kind, as it was last set. */
export type Recipes = { [Made in (typeof MAKERS)[number] as Made['kind']]: z.infer<Made['schema']> };

const perKind = <Made>(make: (maker: (typeof MAKERS)[number]) => Made): Record<string, Made> =>
  Object.fromEntries(MAKERS.map((maker) => [maker.kind, make(maker)]));

type Shape = { [Made in (typeof MAKERS)[number] as Made['kind']]: Made['schema'] };
/** The recipes of a shot, as they were last set. */
export const recipesSchema = z.strictObject(perKind((maker) => maker.schema) as unknown as Shape);
export const BEGIN_RECIPES = perKind((maker) => maker.begin) as Recipes;

/** The maker of a recipe. */
export const makerOf = (recipe: Recipe): Maker<string, Recipe> =>
  MAKERS.find(({ kind }) => kind === recipe.kind) as unknown as Maker<string, Recipe>;

/** What a recipe's renders are called. */
export const recipeLabel = (recipe: Recipe): string => makerOf(recipe).label(recipe);
