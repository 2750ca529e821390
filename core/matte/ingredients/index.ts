import type { z } from 'zod';
import { kindOf, schemaOf } from '../../kind';
import type { Mask } from '../../raster/picture';
import { curve } from './curve';
import { flood } from './flood';
import { IngredientGround } from './ground';
import { outline } from './outline';
import { pieces } from './pieces';
import { region } from './region';
import { slice } from './slice';
import { trace } from './trace';

export { IngredientGround };

/** Every kind of ingredient of a choice. A new one is a file in this folder and a name in this list. */
const INGREDIENTS = [outline, curve, trace, pieces, flood, slice, region] as const;

/** One ingredient of a choice, in full-size px; each joins what the ones before it have chosen. */
export const ingredientSchema = schemaOf(INGREDIENTS);
export type Ingredient = z.infer<typeof ingredientSchema>;

const kindOfIngredient = (value: Ingredient) => kindOf<Ingredient, IngredientGround, Mask>(INGREDIENTS, value);

/** What an ingredient chooses, over the whole ground. @throws CoreError what its kind throws */
export const makeIngredient = (ground: IngredientGround, value: Ingredient): Mask =>
  kindOfIngredient(value).apply(ground, value);

/** What an ingredient is called. */
export const ingredientLabel = (value: Ingredient): string => kindOfIngredient(value).label(value);

/** An ingredient on a canvas that has grown. */
export const shiftIngredient = (value: Ingredient, dx: number, dy: number): Ingredient =>
  kindOfIngredient(value).shift(value, dx, dy);
