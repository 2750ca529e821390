import { z } from 'zod';
import { choiceSchema } from '@/core/matte/choice';
import type { Mask } from '@/core/raster/picture';
import { plateSchema, type Plate } from '@/core/shot/document';
import { database } from '../db/orm';
import { Problem } from '../http/problem';
import { loadRevision, readMap, storeMap } from '../rasters/tiles';
import { bringPlate, duplicatePlate, matchPlate, mergePlates, splitPlate } from './changePlates';
import { cutChoice } from './longWork';
import { begunPlate } from './pieces';
import { plateOf, requireUnlocked, withRoom } from './plateList';
import { shotRasters, storedMatte } from './platePixels';
import { readRaster, sourceRaster } from '../media/decode';
import { changeShot, shotState, type ShotState } from './shots';

const name = plateSchema.shape.name;

/** What can be done to the list of plates, beside the changes that a document patch makes. */
export const plateActionSchema = z.discriminatedUnion('action', [
  z.strictObject({ action: z.literal('plan'), name }),
  /** `spare`: what other plates hold stays theirs. */
  z.strictObject({
    action: z.literal('cut'),
    plate: z.uuid().nullable(),
    name,
    choice: choiceSchema,
    spare: z.boolean(),
  }),
  z.strictObject({ action: z.literal('remove'), plate: z.uuid() }),
  /** Makes the depth behind the plates a map of its own that can be painted. */
  z.strictObject({ action: z.literal('open-behind') }),
  /** Throws that map away: depth goes on from around again. */
  z.strictObject({ action: z.literal('close-behind') }),
  z.strictObject({ action: z.literal('duplicate'), plate: z.uuid() }),
  /** The second becomes part of the first. */
  z.strictObject({ action: z.literal('merge'), plate: z.uuid(), other: z.uuid() }),
  /** What the choice takes from the plate becomes a plate of its own. */
  z.strictObject({ action: z.literal('split'), plate: z.uuid(), name, choice: choiceSchema }),
  /** A plate of another shot. */
  z.strictObject({ action: z.literal('bring'), shot: z.uuid(), plate: z.uuid() }),
  /** Matches a brought-in plate's colours to what lies around it. */
  z.strictObject({ action: z.literal('match'), plate: z.uuid() }),
]);
export type PlateAction = z.infer<typeof plateActionSchema>;

/** Does something to the list of plates; each is one step of the history. */
export async function actOnPlates(id: string, expectedHead: number, action: PlateAction): Promise<ShotState> {
  switch (action.action) {
    case 'plan':
      return changeShot(id, expectedHead, `Plan ${action.name}`, (_em, document) =>
        Promise.resolve({ ...document, plates: [...withRoom(document), begunPlate(action.name)] }),
      );
    case 'remove':
      return changeShot(
        id,
        expectedHead,
        `Remove ${plateOf((await shotState(id)).document, action.plate).name}`,
        (_em, document) => {
          requireUnlocked(plateOf(document, action.plate));
          return Promise.resolve({ ...document, plates: document.plates.filter((p) => p.id !== action.plate) });
        },
      );
    case 'open-behind':
      return openBehind(id, expectedHead);
    case 'close-behind':
      return changeShot(id, expectedHead, 'Depth behind as it goes on', (_em, document) =>
        Promise.resolve({ ...document, depth: { ...document.depth, behind: null } }),
      );
    case 'cut':
      return cut(id, expectedHead, action);
    case 'duplicate':
      return duplicatePlate(id, expectedHead, action.plate);
    case 'merge':
      return mergePlates(id, expectedHead, action.plate, action.other);
    case 'split':
      return splitPlate(id, expectedHead, action);
    case 'bring':
      return bringPlate(id, expectedHead, action.shot, action.plate);
    case 'match':
      return matchPlate(id, expectedHead, action.plate);
  }
}

/** @throws Problem `nothing-hidden` where no plate hides anything */
async function openBehind(id: string, expectedHead: number): Promise<ShotState> {
  const { document } = await shotState(id);
  const { source } = document;
  if (!document.plates.some((p) => p.matte !== null && !p.piece))
    throw new Problem(
      422,
      'nothing-hidden',
      'No plate hides anything of the back plate yet, so there is no depth behind.',
    );
  const { depth } = await shotRasters(document, await readRaster(await sourceRaster(source), source.bits));
  return changeShot(id, expectedHead, 'Open the depth behind', async (em, current) => ({
    ...current,
    depth: { ...current.depth, behind: (await storeMap(em, depth)).id },
  }));
}

async function cut(
  id: string,
  expectedHead: number,
  action: Extract<PlateAction, { action: 'cut' }>,
): Promise<ShotState> {
  const { document, head } = await shotState(id);
  if (head !== expectedHead) throw Problem.movedOn(head);
  const known = action.plate === null ? undefined : plateOf(document, action.plate);
  if (known) requireUnlocked(known);
  else withRoom(document);
  if (known?.piece)
    throw new Problem(
      422,
      'brought-in',
      `${known.name} was brought in and is not cut from this picture. Cut into another plate, or a new one.`,
    );
  const em = await database();
  const depth = await readMap(em, await loadRevision(em, document.depth.revision));
  const spared: Mask[] = [];
  if (action.spare)
    for (const p of document.plates)
      if (p.id !== known?.id && p.matte !== null && !p.piece) spared.push(await storedMatte(p.matte));
  // The long work is done before the shot is locked; the lock then finds out whether somebody was faster.
  const made = await cutChoice(id, action.name, document.source, action.choice, { depth, ...document.depth }, spared);
  const { width, height } = depth;
  return changeShot(id, expectedHead, `Cut ${action.name}`, async (tx, current) => {
    const matte = await storeMap(tx, { width, height, data: made.matte });
    const own = await storeMap(tx, { width, height, data: made.depth });
    const plate: Plate = {
      ...(known ?? begunPlate(action.name)),
      name: action.name,
      matte: matte.id,
      choice: action.choice,
      depth: { revision: own.id, near: made.near, far: made.far },
    };
    return {
      ...current,
      plates: known ? current.plates.map((p) => (p.id === known.id ? plate : p)) : [...current.plates, plate],
    };
  });
}
