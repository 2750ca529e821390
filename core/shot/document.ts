import { z } from 'zod';
import { choiceSchema } from '../matte/choice';
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

/** Most plates of a shot. */
export const PLATES = 40;

/** Parallax jump between neighbours beyond which the picture tears instead of stretching like rubber, px at the source's width. */
const tearLimit = z.number().min(0.25).max(200);
/** How softly torn edges fade into what was filled, px at the source's width. */
const tearSoftness = z.number().min(0).max(40);
const plateName = z.string().trim().min(1).max(60);
const depthEnd = z.number().min(0).max(1);

const share = z.number().min(-20).max(20);

/** Where and how a piece that was brought in lies on the picture; px of the source. */
export const placementSchema = z.strictObject({
  x: z.number().min(-1e5).max(1e5),
  y: z.number().min(-1e5).max(1e5),
  scale: z.number().min(0.01).max(100),
  turn: z.number().min(-360).max(360),
  flipAcross: z.boolean(),
  flipDown: z.boolean(),
});
/** How its colours are matched to its surroundings. */
export const colourMatchSchema = z.strictObject({
  strength: z.number().min(0).max(1),
  gain: z.tuple([share, share, share]),
  offset: z.tuple([share, share, share]),
});

/** A plate's own colours, where it was brought in from elsewhere: a stored picture with alpha, and its place. */
export const pieceSchema = z.strictObject({
  mediaId: z.uuid(),
  fileName: z.string().max(255),
  width: z.number().int().positive(),
  height: z.number().int().positive(),
  bits: z.union([z.literal(8), z.literal(16)]),
  placement: placementSchema,
  match: colourMatchSchema.nullable(),
});
export type Piece = z.infer<typeof pieceSchema>;

/** A cut-out piece of the picture with matte and depth of its own; planned only, as long as it has no matte. */
export const plateSchema = z.strictObject({
  id: z.uuid(),
  name: plateName,
  /** Coverage, a 16-bit raster; null while the plate is only planned. */
  matte: z.uuid().nullable(),
  /** How it was chosen, so that it can be chosen anew. */
  choice: choiceSchema.nullable(),
  /** Colours of its own; null where they come from the source. */
  piece: pieceSchema.nullable(),
  /** What was filled in where nearer plates hide it, and painted over its own pixels: stored pictures; null while nothing was. */
  fill: z.uuid().nullable(),
  overpaint: z.uuid().nullable(),
  /** Its own tear limit and softness of torn edges; null: those of the shot. */
  tearPx: tearLimit.nullable(),
  tearSoftPx: tearSoftness.nullable(),
  /** Plates of one group move, hide and lock together. */
  group: plateName.nullable(),
  depth: z.strictObject({ revision: z.uuid().nullable(), near: depthEnd, far: depthEnd }),
  hidden: z.boolean(),
  locked: z.boolean(),
});
export type Plate = z.infer<typeof plateSchema>;

/** The shot document: everything but pixels. Version 1. */
export const shotDocumentSchema = z.strictObject({
  version: z.literal(1),
  source: z.strictObject({
    mediaId: z.uuid(),
    fileName: z.string().max(255),
    width: z.number().int().positive(),
    height: z.number().int().positive(),
    bits: z.union([z.literal(8), z.literal(16)]),
    hasAlpha: z.boolean(),
    told: z.string().max(400),
  }),
  /** The part of an extended canvas that is handed over, and the file as it came; null: all of it. */
  frame: z
    .strictObject({
      left: z.number().int().min(0),
      top: z.number().int().min(0),
      width: z.number().int().positive(),
      height: z.number().int().positive(),
      mediaId: z.uuid(),
    })
    .nullable(),
  /** The back plate's depth: which revision of its map, and the depth span that the map is stretched over. */
  depth: z.strictObject({
    revision: z.uuid(),
    near: z.number().min(0).max(1),
    far: z.number().min(0).max(1),
    /** Its depth where plates hide it, once that is painted: a map of its own; null: it goes on from around. */
    behind: z.uuid().nullable(),
  }),
  /** What was filled in behind the plates, and painted over the back plate's own pixels: stored pictures; null while nothing was. */
  fill: z.uuid().nullable(),
  overpaint: z.uuid().nullable(),
  /** The plates before the back plate, in the order in which they were begun; what is drawn over what follows from their depths. */
  plates: z.array(plateSchema).max(PLATES),
  budget: budgetSchema,
  sourceEye: z.enum(['left', 'centre', 'right']),
  swapEyes: z.boolean(),
  tearPx: tearLimit,
  tearSoftPx: tearSoftness,
  /** How far lifted plates' holes are pushed out, px; null: by the picture's size. */
  holePx: z.number().min(0).max(100).nullable(),
  viewing: viewingSchema,
  recipes: z.strictObject({
    pair: recipeSchema.options[0],
    views: recipeSchema.options[1],
    sheet: recipeSchema.options[2],
  }),
});
export type ShotDocument = z.infer<typeof shotDocumentSchema>;

/** What the page may change of a document; the source and the depth revision have their own ways. */
export const documentPatchSchema = z.strictObject({
  span: z
    .strictObject({ near: z.number().min(0).max(1), far: z.number().min(0).max(1) })
    .refine((s) => s.near > s.far, 'The near end of a depth span must be nearer than its far end.')
    .optional(),
  /** Changes of plates that exist. */
  plates: z
    .array(
      z
        .strictObject({
          id: z.uuid(),
          name: plateName.optional(),
          near: depthEnd.optional(),
          far: depthEnd.optional(),
          hidden: z.boolean().optional(),
          locked: z.boolean().optional(),
          group: plateName.nullable().optional(),
          tearPx: tearLimit.nullable().optional(),
          tearSoftPx: tearSoftness.nullable().optional(),
          placement: placementSchema.optional(),
          match: colourMatchSchema.nullable().optional(),
        })
        .refine(
          (p) => p.near === undefined || p.far === undefined || p.near > p.far,
          'The near end of a depth span must be nearer than its far end.',
        ),
    )
    .max(PLATES)
    .optional(),
  budget: budgetSchema.optional(),
  sourceEye: shotDocumentSchema.shape.sourceEye.optional(),
  swapEyes: z.boolean().optional(),
  tearPx: shotDocumentSchema.shape.tearPx.optional(),
  holePx: shotDocumentSchema.shape.holePx.optional(),
  tearSoftPx: shotDocumentSchema.shape.tearSoftPx.optional(),
  viewing: viewingSchema.optional(),
  recipes: shotDocumentSchema.shape.recipes.partial().optional(),
});
export type DocumentPatch = z.infer<typeof documentPatchSchema>;

/** The document with a patch applied; the old one stays as it is. */
export function patchDocument(document: ShotDocument, patch: DocumentPatch): ShotDocument {
  const { span, recipes, plates, ...rest } = patch;
  const given = Object.fromEntries(Object.entries(rest).filter(([, v]) => v !== undefined));
  return {
    ...document,
    ...given,
    plates: plates
      ? document.plates.map((p) =>
          changePlate(
            p,
            plates.find((c) => c.id === p.id),
          ),
        )
      : document.plates,
    depth: span ? { ...document.depth, ...span } : document.depth,
    recipes: recipes ? { ...document.recipes, ...recipes } : document.recipes,
  };
}

function changePlate(plate: Plate, change: NonNullable<DocumentPatch['plates']>[number] | undefined): Plate {
  if (!change) return plate;
  const {
    near = plate.depth.near,
    far = plate.depth.far,
    name = plate.name,
    hidden = plate.hidden,
    locked = plate.locked,
    group = plate.group,
    tearPx = plate.tearPx,
    tearSoftPx = plate.tearSoftPx,
  } = change;
  const piece = plate.piece && {
    ...plate.piece,
    placement: change.placement ?? plate.piece.placement,
    match: change.match === undefined ? plate.piece.match : change.match,
  };
  return { ...plate, name, hidden, locked, group, tearPx, tearSoftPx, piece, depth: { ...plate.depth, near, far } };
}

/** The size of what is handed over: the frame of an extended canvas, or else all of it. Parallax in other units is of its width. */
export function handedSize({ source, frame }: Pick<ShotDocument, 'source' | 'frame'>): {
  readonly width: number;
  readonly height: number;
} {
  return frame ?? source;
}

/** Plates from far to near, by the middle of their spans. */
export function farToNear<P extends { readonly depth: { readonly near: number; readonly far: number } }>(
  plates: readonly P[],
): P[] {
  return [...plates].sort((a, b) => a.depth.near + a.depth.far - b.depth.near - b.depth.far);
}

/** The plates that are drawn, farthest first: those with a matte that are not hidden, by the middle of their spans. */
export function drawnPlates<
  P extends Pick<Plate, 'matte' | 'hidden'> & { readonly depth: { readonly near: number; readonly far: number } },
>(plates: readonly P[]): P[] {
  return farToNear(plates.filter((p) => p.matte !== null && !p.hidden));
}

/** Comfortable beginnings for a source of this width: 1 % of the width in front of the screen, 1.4 % behind it. */
export function newDocument(source: ShotDocument['source'], depthRevision: string): ShotDocument {
  const tenth = (v: number): number => Math.round(v * 10) / 10;
  return {
    version: 1,
    source,
    depth: { revision: depthRevision, near: 1, far: 0, behind: null },
    frame: null,
    fill: null,
    overpaint: null,
    plates: [],
    budget: {
      nearPx: tenth(Math.max(-4000, -0.0125 * source.width)),
      farPx: tenth(Math.min(4000, 0.01625 * source.width)),
    },
    sourceEye: 'centre',
    swapEyes: false,
    tearPx: 2,
    tearSoftPx: 0,
    holePx: null,
    viewing: { name: 'Desk screen 24 in', widthMm: 518.4, distanceMm: 650, eyesMm: 65, comfortArcmin: 60 },
    recipes: {
      pair: { kind: 'pair', packing: 'left-and-right', format: 'png', quality: 92 },
      views: { kind: 'views', views: 9, format: 'png', quality: 92 },
      sheet: { kind: 'sheet', widthMm: 200, lpi: 75.13, dpi: 720, views: 9, lensSwap: false, format: 'tiff' },
    },
  };
}
