import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { choiceSchema } from '@/core/matte/choice';
import { PLATES, plateSchema, type Plate, type ShotDocument } from '@/core/shot/document';
import { layOutPlates, type CutPlate, type ShotRasters } from '@/core/shot/plates';
import type { DepthMap, Picture } from '@/core/raster/picture';
import { database } from '../db/orm';
import { Problem } from '../http/problem';
import { sourceRaster } from '../media/decode';
import { loadRevision, readMap, storeMap } from '../rasters/tiles';
import { cutInThread } from '../threads/pool';
import { plateOf, requireUnlocked } from './plateList';
import { changeShot, shotState, type ShotState } from './shots';

const name = plateSchema.shape.name;

/** What can be done to the list of plates, beside the changes that a document patch makes. */
export const plateActionSchema = z.discriminatedUnion('action', [
  z.strictObject({ action: z.literal('plan'), name }),
  z.strictObject({ action: z.literal('cut'), plate: z.uuid().nullable(), name, choice: choiceSchema }),
  z.strictObject({ action: z.literal('remove'), plate: z.uuid() }),
]);
export type PlateAction = z.infer<typeof plateActionSchema>;

/** Plans, cuts or removes a plate; each is one step of the history. */
export async function actOnPlates(id: string, expectedHead: number, action: PlateAction): Promise<ShotState> {
  switch (action.action) {
    case 'plan': return changeShot(id, expectedHead, `Plan ${action.name}`, (_em, document) => Promise.resolve({ ...document, plates: [...withRoom(document), begunPlate(action.name)] }));
    case 'remove': return changeShot(id, expectedHead, `Remove ${plateOf((await shotState(id)).document, action.plate).name}`, (_em, document) => {
      requireUnlocked(plateOf(document, action.plate));
      return Promise.resolve({ ...document, plates: document.plates.filter((p) => p.id !== action.plate) });
    });
    case 'cut': return cut(id, expectedHead, action);
  }
}

async function cut(id: string, expectedHead: number, action: Extract<PlateAction, { action: 'cut' }>): Promise<ShotState> {
  const { document, head } = await shotState(id);
  if (head !== expectedHead) throw Problem.movedOn(head);
  const known = action.plate === null ? undefined : plateOf(document, action.plate);
  if (known) requireUnlocked(known);
  else withRoom(document);
  const em = await database();
  const depth = await readMap(em, await loadRevision(em, document.depth.revision));
  // The long work is done before the shot is locked; the lock then finds out whether somebody was faster.
  const made = await cutInThread({ raster: await sourceRaster(document.source), choice: action.choice, depth, span: document.depth });
  const { width, height } = depth;
  return changeShot(id, expectedHead, `Cut ${action.name}`, async (tx, current) => {
    const matte = await storeMap(tx, { width, height, data: made.matte }), own = await storeMap(tx, { width, height, data: made.depth });
    const plate: Plate = { ...(known ?? begunPlate(action.name)), name: action.name, matte: matte.id, choice: action.choice, depth: { revision: own.id, near: made.near, far: made.far } };
    return { ...current, plates: known ? current.plates.map((p) => (p.id === known.id ? plate : p)) : [...current.plates, plate] };
  });
}

function begunPlate(called: string): Plate {
  return { id: randomUUID(), name: called, matte: null, choice: null, depth: { revision: null, near: 0.6, far: 0.5 }, hidden: false, locked: false };
}

function withRoom(document: ShotDocument): readonly Plate[] {
  if (document.plates.length >= PLATES) throw new Problem(422, 'too-many-plates', `A shot has at most ${PLATES} plates. Remove one before you begin another.`);
  return document.plates;
}

/** A shot's stored maps at full size: the back plate's depth, and matte and depth of every plate that is cut. */
export async function storedPlates(document: ShotDocument): Promise<{ depth: DepthMap; plates: CutPlate[] }> {
  const em = await database();
  const map = async (revision: string): Promise<DepthMap> => readMap(em, await loadRevision(em, revision));
  const plates: CutPlate[] = [];
  for (const plate of document.plates) {
    if (plate.matte === null || plate.depth.revision === null) continue;
    const matte = await map(plate.matte);
    plates.push({ id: plate.id, matte: { width: matte.width, height: matte.height, data: Uint8Array.from(matte.data, (v) => (v + 128) / 257) }, depth: await map(plate.depth.revision) });
  }
  return { depth: await map(document.depth.revision), plates };
}

/** Everything a shot is rendered from, at full size. `source` must be premultiplied where it has any transparency. */
export async function shotRasters(document: ShotDocument, source: Picture): Promise<ShotRasters<Picture>> {
  const { depth, plates } = await storedPlates(document);
  return layOutPlates(source, depth, plates);
}
