import { z } from 'zod';
import { budgetAt } from './depthScript';
import { cameraSchema } from './camera';
import { footagePatchSchema } from './footage';
import { KEPT_MOVES, keptMoveSchema, moveSchema } from './move';
import { colourMatchSchema, depthEnd, placementSchema, plateName, PLATES, type Plate } from './plate';
import { recipesSchema } from '../../recipes';
import { stereoPart, tearLimit, tearSoftness, viewingSchema } from './stereo';
import type { ShotDocument } from './shotDocument';

const TURNED = 'The near end of a depth span must be nearer than its far end.';

const plateChangeSchema = z
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
  .refine((p) => p.near === undefined || p.far === undefined || p.near > p.far, TURNED);

/** What the page may change of a document; the source and the depth revision have their own ways. */
export const documentPatchSchema = z.strictObject({
  ...z.object(stereoPart).partial().shape,
  /** The back plate's depth span. */
  span: z
    .strictObject({ near: depthEnd, far: depthEnd })
    .refine((s) => s.near > s.far, TURNED)
    .optional(),
  /** Changes of plates that exist. */
  plates: z.array(plateChangeSchema).max(PLATES).optional(),
  viewing: viewingSchema.optional(),
  camera: cameraSchema.partial().optional(),
  move: moveSchema.nullable().optional(),
  keptMoves: z.array(keptMoveSchema).max(KEPT_MOVES).optional(),
  footage: footagePatchSchema.optional(),
  recipes: recipesSchema.partial().optional(),
});
export type DocumentPatch = z.infer<typeof documentPatchSchema>;

/** The document with a patch applied; the old one stays as it is. */
export function patchDocument(document: ShotDocument, patch: DocumentPatch): ShotDocument {
  const { span, recipes, plates, camera, footage, ...rest } = patch;
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
    footage: document.footage && { ...document.footage, ...footage },
    ...(footage?.script && footage.script.length > 0
      ? { budget: budgetAt(footage.script, document.source.moment ?? 0) }
      : {}),
    camera: camera ? { ...document.camera, ...camera } : document.camera,
    recipes: recipes ? { ...document.recipes, ...recipes } : document.recipes,
  };
}

function changePlate(plate: Plate, change: z.infer<typeof plateChangeSchema> | undefined): Plate {
  if (!change) return plate;
  const { near = plate.depth.near, far = plate.depth.far, placement, match, ...rest } = change;
  const given = Object.fromEntries(Object.entries(rest).filter(([, v]) => v !== undefined));
  const piece = plate.piece && {
    ...plate.piece,
    placement: placement ?? plate.piece.placement,
    match: match === undefined ? plate.piece.match : match,
  };
  return { ...plate, ...given, piece, depth: { ...plate.depth, near, far } };
}
