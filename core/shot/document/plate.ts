import { z } from 'zod';
import { footageFrame, MOST_KEYS, rising } from './frames';
import { HELD_STROKES, heldStrokeSchema } from './stroke';
import { tearLimit, tearSoftness } from './stereo';

/** Most plates of a shot. */
export const PLATES = 40;

export const plateName = z.string().trim().min(1).max(60);
/** One end of a depth span: 0 farthest to 1 nearest. */
export const depthEnd = z.number().min(0).max(1);

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

/**
 * What was filled in where nearer plates hide a plate, and painted over its own pixels: stored pictures; null while
 * nothing was. And the strokes that its fills heed.
 */
export const paintedPart = {
  fill: z.uuid().nullable(),
  overpaint: z.uuid().nullable(),
  strokes: z.array(heldStrokeSchema).max(HELD_STROKES),
} as const;

const plateDepthSchema = z.strictObject({ revision: z.uuid().nullable(), near: depthEnd, far: depthEnd });

/** A plate of a film at a frame that was worked on. */
export const plateKeySchema = z.strictObject({
  frame: footageFrame,
  /** Null: it is not to be seen there. */
  matte: z.uuid().nullable(),
  choice: z.string().length(64).nullable(),
  depth: plateDepthSchema,
});
export type PlateKey = z.infer<typeof plateKeySchema>;

/** A cut-out piece of the picture with matte and depth of its own; planned only, as long as it has no matte. */
export const plateSchema = z.strictObject({
  id: z.uuid(),
  name: plateName,
  /** Coverage, a 16-bit raster; null while the plate is only planned. */
  matte: z.uuid().nullable(),
  /**
   * How it was chosen, so that it can be chosen anew: the name of a stored choice. Outlines are long, and most changes
   * leave them alone.
   */
  choice: z.string().length(64).nullable(),
  /** Colours of its own; null where they come from the source. */
  piece: pieceSchema.nullable(),
  ...paintedPart,
  /** Its own tear limit and softness of torn edges; null: those of the shot. */
  tearPx: tearLimit.nullable(),
  tearSoftPx: tearSoftness.nullable(),
  /** Plates of one group move, hide and lock together. */
  group: plateName.nullable(),
  /** The depth span that its map is stretched over. */
  depth: plateDepthSchema,
  /** Of a film: the frames at which it was cut or corrected; it is carried to the others. None in a still. */
  keys: z.array(plateKeySchema).max(MOST_KEYS).refine(rising, 'Keys must follow one another.'),
  hidden: z.boolean(),
  locked: z.boolean(),
});
export type Plate = z.infer<typeof plateSchema>;

/** The back plate's depth: which revision of its map, and the depth span that the map is stretched over. */
export const backDepthSchema = z.strictObject({
  revision: z.uuid(),
  near: depthEnd,
  far: depthEnd,
  /** Its depth where plates hide it, once that is painted: a map of its own; null: it goes on from around. */
  behind: z.uuid().nullable(),
});

interface Spanned {
  readonly depth: { readonly near: number; readonly far: number };
}

/** Plates from far to near, by the middle of their spans. */
export function farToNear<P extends Spanned>(plates: readonly P[]): P[] {
  return [...plates].sort((a, b) => a.depth.near + a.depth.far - b.depth.near - b.depth.far);
}

/** The plates that are drawn, farthest first: those with a matte that are not hidden, by the middle of their spans. */
export function drawnPlates<P extends Pick<Plate, 'matte' | 'hidden'> & Spanned>(plates: readonly P[]): P[] {
  return farToNear(plates.filter((p) => p.matte !== null && !p.hidden));
}
