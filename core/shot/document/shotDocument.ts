import { z } from 'zod';
import { BEGIN_CAMERA, cameraSchema } from './camera';
import { KEPT_MOVES, keptMoveSchema, moveSchema } from './move';
import { keptDepthsPart } from './keptDepths';
import { marksPart } from './marks';
import { backDepthSchema, paintedPart, PLATES, plateSchema } from './plate';
import { BEGIN_RECIPES, recipesSchema } from '../../recipes';
import { footageSchema } from './footage';
import { frameSchema, sourceSchema, type Source } from './source';
import { beginStereo, stereoPart, viewingSchema } from './stereo';

/** The newest version of a document. */
export const VERSION = 2;

/**
 * The shot document: everything but pixels and outlines. Older versions are upgraded when they are read (upgrade.ts).
 */
export const shotDocumentSchema = z.strictObject({
  version: z.literal(VERSION),
  source: sourceSchema,
  /** Null: a still. */
  footage: footageSchema.nullable(),
  /** Null: all of the source is handed over. */
  frame: frameSchema.nullable(),
  depth: backDepthSchema,
  /** Of the back plate. */
  ...paintedPart,
  /**
   * The plates before the back plate, in the order in which they were begun; what is drawn over what follows from
   * their depths.
   */
  plates: z.array(plateSchema).max(PLATES),
  /** Of depth maps that were made of marks. */
  ...marksPart,
  /** Other versions of depth maps. */
  ...keptDepthsPart,
  ...stereoPart,
  viewing: viewingSchema,
  camera: cameraSchema,
  /** Null: nothing moves. */
  move: moveSchema.nullable(),
  /** Other versions of it. */
  keptMoves: z.array(keptMoveSchema).max(KEPT_MOVES),
  recipes: recipesSchema,
});
export type ShotDocument = z.infer<typeof shotDocumentSchema>;

/** A shot as it begins: no plates, all depth on the ruler. */
export function newDocument(source: Source, depthRevision: string): ShotDocument {
  return {
    version: VERSION,
    source,
    footage: null,
    frame: null,
    depth: { revision: depthRevision, near: 1, far: 0, behind: null },
    fill: null,
    overpaint: null,
    strokes: [],
    plates: [],
    marks: [],
    keptDepths: [],
    ...beginStereo(source.width),
    camera: BEGIN_CAMERA,
    move: null,
    keptMoves: [],
    recipes: BEGIN_RECIPES,
  };
}
