import { z } from 'zod';
import { ANAGLYPHS } from '../../packing/anaglyph';

export const FORMATS = ['png', 'png16', 'tiff', 'jpeg'] as const;
export const PAIR_PACKINGS = ['left-and-right', 'side-by-side', ...ANAGLYPHS] as const;

/** What to make for one hand-over. */
export const recipeSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('pair'),
    packing: z.enum(PAIR_PACKINGS),
    format: z.enum(FORMATS),
    quality: z.number().int().min(50).max(100),
  }),
  z.strictObject({
    kind: z.literal('views'),
    views: z.number().int().min(3).max(200),
    format: z.enum(FORMATS),
    quality: z.number().int().min(50).max(100),
  }),
  z.strictObject({
    kind: z.literal('sheet'),
    widthMm: z.number().min(5).max(2000),
    lpi: z.number().min(5).max(400),
    dpi: z.number().min(50).max(5760),
    views: z.number().int().min(2).max(200),
    lensSwap: z.boolean(),
    format: z.enum(['tiff', 'png']),
  }),
]);
export type Recipe = z.infer<typeof recipeSchema>;

/** The recipes of a shot, as they were last set. */
export const recipesSchema = z.strictObject({
  pair: recipeSchema.options[0],
  views: recipeSchema.options[1],
  sheet: recipeSchema.options[2],
});

export const BEGIN_RECIPES: z.infer<typeof recipesSchema> = {
  pair: { kind: 'pair', packing: 'left-and-right', format: 'png', quality: 92 },
  views: { kind: 'views', views: 9, format: 'png', quality: 92 },
  sheet: { kind: 'sheet', widthMm: 200, lpi: 75.13, dpi: 720, views: 9, lensSwap: false, format: 'tiff' },
};
