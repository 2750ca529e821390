import { z } from 'zod';
import { ANAGLYPHS } from '../packing/anaglyph';

const px = z.number().min(-4000).max(4000);

/** Two parallaxes with a number each, px at the source's width. */
export const budgetSchema = z.strictObject({ nearPx: px, farPx: px });

/** The screen or sheet that the shot is judged for, and who looks at it. */
export const viewingSchema = z.strictObject({
  name: z.string().trim().min(1).max(60),
  widthMm: z.number().min(20).max(40000),
  distanceMm: z.number().min(50).max(100000),
  eyesMm: z.number().min(40).max(80),
  comfortArcmin: z.number().min(5).max(240),
});

export const FORMATS = ['png', 'png16', 'tiff', 'jpeg'] as const;
export const PAIR_PACKINGS = ['left-and-right', 'side-by-side', ...ANAGLYPHS] as const;

/** What to make for one hand-over. */
export const recipeSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('pair'), packing: z.enum(PAIR_PACKINGS), format: z.enum(FORMATS), quality: z.number().int().min(50).max(100) }),
  z.strictObject({ kind: z.literal('views'), views: z.number().int().min(3).max(200), format: z.enum(FORMATS), quality: z.number().int().min(50).max(100) }),
  z.strictObject({
    kind: z.literal('sheet'), widthMm: z.number().min(5).max(2000), lpi: z.number().min(5).max(400), dpi: z.number().min(50).max(5760),
    views: z.number().int().min(2).max(200), lensSwap: z.boolean(), format: z.enum(['tiff', 'png']),
  }),
]);
export type Recipe = z.infer<typeof recipeSchema>;

/** The shot document: everything but pixels. Version 1. */
export const shotDocumentSchema = z.strictObject({
  version: z.literal(1),
  source: z.strictObject({
    mediaId: z.uuid(), fileName: z.string().max(255), width: z.number().int().positive(), height: z.number().int().positive(),
    bits: z.union([z.literal(8), z.literal(16)]), hasAlpha: z.boolean(), told: z.string().max(400),
  }),
  /** The back plate's depth: which revision of its map, and the depth span that the map is stretched over. */
  depth: z.strictObject({
    revision: z.uuid(),
    near: z.number().min(0).max(1),
    far: z.number().min(0).max(1),
  }),
  budget: budgetSchema,
  sourceEye: z.enum(['left', 'centre', 'right']),
  swapEyes: z.boolean(),
  tearPx: z.number().min(0.25).max(200),
  viewing: viewingSchema,
  recipes: z.strictObject({
    pair: recipeSchema.options[0], views: recipeSchema.options[1], sheet: recipeSchema.options[2],
  }),
});
export type ShotDocument = z.infer<typeof shotDocumentSchema>;

/** What the page may change of a document; the source and the depth revision have their own ways. */
export const documentPatchSchema = z.strictObject({
  span: z.strictObject({ near: z.number().min(0).max(1), far: z.number().min(0).max(1) })
    .refine((s) => s.near > s.far, 'The near end of a depth span must be nearer than its far end.').optional(),
  budget: budgetSchema.optional(),
  sourceEye: shotDocumentSchema.shape.sourceEye.optional(),
  swapEyes: z.boolean().optional(),
  tearPx: shotDocumentSchema.shape.tearPx.optional(),
  viewing: viewingSchema.optional(),
  recipes: shotDocumentSchema.shape.recipes.partial().optional(),
});
export type DocumentPatch = z.infer<typeof documentPatchSchema>;

/** The document with a patch applied; the old one stays as it is. */
export function patchDocument(document: ShotDocument, patch: DocumentPatch): ShotDocument {
  const { span, recipes, ...rest } = patch;
  const given = Object.fromEntries(Object.entries(rest).filter(([, v]) => v !== undefined));
  return {
    ...document,
    ...given,
    depth: span ? { ...document.depth, ...span } : document.depth,
    recipes: recipes ? { ...document.recipes, ...recipes } : document.recipes,
  };
}

/** Comfortable beginnings for a source of this width: 1 % of the width in front of the screen, 1.4 % behind it. */
export function newDocument(source: ShotDocument['source'], depthRevision: string): ShotDocument {
  const tenth = (v: number): number => Math.round(v * 10) / 10;
  return {
    version: 1,
    source,
    depth: { revision: depthRevision, near: 1, far: 0 },
    budget: { nearPx: tenth(Math.max(-4000, -0.0125 * source.width)), farPx: tenth(Math.min(4000, 0.01625 * source.width)) },
    sourceEye: 'centre',
    swapEyes: false,
    tearPx: 2,
    viewing: { name: 'Desk screen 24 in', widthMm: 518.4, distanceMm: 650, eyesMm: 65, comfortArcmin: 60 },
    recipes: {
      pair: { kind: 'pair', packing: 'left-and-right', format: 'png', quality: 92 },
      views: { kind: 'views', views: 9, format: 'png', quality: 92 },
      sheet: { kind: 'sheet', widthMm: 200, lpi: 75.13, dpi: 720, views: 9, lensSwap: false, format: 'tiff' },
    },
  };
}
