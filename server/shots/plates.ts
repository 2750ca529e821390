import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import equal from 'fast-deep-equal';
import { choiceSchema } from '@/core/matte/choice';
import { HELD_STROKES, plateSchema, type Plate, type ShotDocument } from '@/core/shot/document';
import { Problem } from '../http/problem';
import { inThread } from '../threads/pool';
import { storeChoice } from './choices';
import { changeShot, documentOf, shotState, type ShotAt, type ShotState } from './history';
import { longWork } from './longWork';
import { begunPlate } from './pieces';
import { plateOf, requireUnlocked, withRoom } from './plateList';

const name = plateSchema.shape.name;
const plate = z.uuid();

/** What can be done to the list of plates, beside the changes that a document patch makes. */
export const plateActionSchema = z.discriminatedUnion('action', [
  z.strictObject({ action: z.literal('plan'), name }),
  /** `spare`: what other plates hold stays theirs. */
  z.strictObject({
    action: z.literal('cut'),
    plate: plate.nullable(),
    name,
    choice: choiceSchema,
    spare: z.boolean(),
  }),
  z.strictObject({ action: z.literal('remove'), plate }),
  /** Makes the depth behind the plates a map of its own that can be painted: as it goes on smoothly, or by floors and walls. */
  z.strictObject({ action: z.literal('open-behind'), by: z.enum(['smooth', 'planes']).optional() }),
  /** Throws that map away: depth goes on from around again. */
  z.strictObject({ action: z.literal('close-behind') }),
  z.strictObject({ action: z.literal('duplicate'), plate }),
  /** The second becomes part of the first. */
  z.strictObject({ action: z.literal('merge'), plate, other: plate }),
  /** What the choice takes from the plate becomes a plate of its own. */
  z.strictObject({ action: z.literal('split'), plate, name, choice: choiceSchema }),
  /** A plate of another shot. */
  z.strictObject({ action: z.literal('bring'), shot: z.uuid(), plate }),
  /** Matches a brought-in plate's colours to what lies around it. */
  z.strictObject({ action: z.literal('match'), plate }),
]);
export type PlateAction = z.infer<typeof plateActionSchema>;
type Act<Name extends PlateAction['action']> = Extract<PlateAction, { action: Name }>;

/** What cannot be carried to other frames. */
const FOR_STILLS: ReadonlySet<PlateAction['action']> = new Set(['merge', 'split', 'open-behind', 'close-behind']);

/** Does something to the list of plates; each is one step of the history. @throws Problem what is refused */
export async function actOnPlates(at: ShotAt, action: PlateAction): Promise<ShotState> {
  if (FOR_STILLS.has(action.action) && (await documentOf(at)).footage)
    throw new Problem(
      422,
      'not-on-footage',
      'This is done to plates of stills: on a film it would hold for one frame only. Cut it as a plate of its own.',
    );
  switch (action.action) {
    case 'plan':
      return changeShot(at, `Plan ${action.name}`, (_em, document) =>
        Promise.resolve({ ...document, plates: [...withRoom(document), begunPlate(action.name)] }),
      );
    case 'remove':
      return removePlate(at, action.plate);
    case 'open-behind':
      return openBehind(at, action.by ?? 'smooth');
    case 'close-behind':
      return changeShot(at, 'Depth behind as it goes on', (_em, document) =>
        Promise.resolve({ ...document, depth: { ...document.depth, behind: null } }),
      );
    case 'cut':
      return cutPlate(at, action);
    case 'duplicate':
      return duplicatePlate(at, action.plate);
    case 'merge':
      return mergePlates(at, action);
    case 'split':
      return splitPlate(at, action);
    case 'bring':
      return bringPlate(at, action);
    case 'match':
      return matchPlate(at, action.plate);
  }
}

function removePlate(at: ShotAt, id: string): Promise<ShotState> {
  return changeShot(
    at,
    (document) => `Remove ${plateOf(document, id).name}`,
    (_em, document) => {
      requireUnlocked(plateOf(document, id));
      return Promise.resolve({ ...document, plates: document.plates.filter((p) => p.id !== id) });
    },
  );
}

/** @throws Problem `nothing-hidden` where no plate hides anything */
async function openBehind(at: ShotAt, by: 'smooth' | 'planes'): Promise<ShotState> {
  const document = await documentOf(at);
  if (!document.plates.some((p) => p.matte !== null && !p.piece))
    throw new Problem(
      422,
      'nothing-hidden',
      'No plate hides anything of the back plate yet, so there is no depth behind.',
    );
  const { revision } = await inThread('openBehind', { document, by });
  return changeShot(
    at,
    by === 'planes' ? 'Depth behind by floors and walls' : 'Open the depth behind',
    (_em, current) => Promise.resolve({ ...current, depth: { ...current.depth, behind: revision } }),
  );
}

/**
 * Cuts a choice into a plate, in a thread; what was changed meanwhile is kept, where the cut still fits. @throws
 * Problem `brought-in`, `busy`, `stopped`
 */
async function cutPlate(at: ShotAt, action: Act<'cut'>): Promise<ShotState> {
  const document = await documentOf(at);
  const { source, depth } = document;
  const known = action.plate === null ? undefined : plateOf(document, action.plate);
  if (known) requireUnlocked(known);
  else withRoom(document);
  if (known?.piece)
    throw new Problem(
      422,
      'brought-in',
      `${known.name} was brought in and is not cut from this picture. Cut into another plate, or a new one.`,
    );
  const sparedBy = ({ plates }: ShotDocument): string[] =>
    action.spare ? plates.flatMap((p) => (p.id !== known?.id && p.matte !== null && !p.piece ? [p.matte] : [])) : [];
  const made = await longWork({ shot: at.id, name: action.name, verb: 'Cutting' }, (follow) =>
    inThread('cut', { source, choice: action.choice, depth, spared: sparedBy(document) }, { follow }),
  );
  const madeOf = (d: ShotDocument): unknown => [d.source.mediaId, d.depth, sparedBy(d)];
  return changeShot(
    at,
    `Cut ${action.name}`,
    async (em, current) => {
      const before = known ? plateOf(current, known.id) : begunPlate(action.name);
      const choice = await storeChoice(em, action.choice);
      const next: Plate = { ...before, name: action.name, matte: made.matte, choice, depth: made.depth };
      if (known) return { ...current, plates: current.plates.map((p) => (p.id === known.id ? next : p)) };
      return { ...current, plates: [...withRoom(current), next] };
    },
    { fits: (current) => equal(madeOf(current), madeOf(document)) },
  );
}

/** The same plate once more: nothing is copied, the same revisions are named again. */
function duplicatePlate(at: ShotAt, id: string): Promise<ShotState> {
  return changeShot(at, 'Duplicate a plate', (_em, document) => {
    withRoom(document);
    const before = plateOf(document, id);
    const taken = new Set(document.plates.map((p) => p.name));
    let called = `${before.name.slice(0, 54)} copy`;
    for (let n = 2; taken.has(called); n++) called = `${before.name.slice(0, 50)} copy ${n}`;
    const copy: Plate = { ...before, id: randomUUID(), name: called, locked: false };
    return Promise.resolve({
      ...document,
      plates: document.plates.flatMap((p) => (p.id === id ? [p, copy] : [p])),
    });
  });
}

/** @throws Problem `one-plate`, `not-cut`, `plate-locked` */
async function mergePlates(at: ShotAt, { plate: first, other: second }: Act<'merge'>): Promise<ShotState> {
  const document = await documentOf(at);
  const plates = [plateOf(document, first), plateOf(document, second)] as const;
  if (first === second) throw new Problem(422, 'one-plate', 'A plate cannot be merged with itself.');
  plates.forEach(requireUnlocked);
  const made = await inThread('merge', { document, plates });
  return changeShot(at, `Merge ${plates[1].name} into ${plates[0].name}`, (_em, current) => {
    const strokes = plates.flatMap((p) => p.strokes).slice(0, HELD_STROKES);
    const merged: Plate = { ...plates[0], choice: null, strokes, ...made };
    const left = current.plates.filter((p) => p.id !== second);
    return Promise.resolve({ ...current, plates: left.map((p) => (p.id === first ? merged : p)) });
  });
}

/** Parts a plate along a choice; both keep their depth. @throws Problem `nothing-taken`, `all-taken` */
async function splitPlate(at: ShotAt, { plate: id, name: called, choice }: Act<'split'>): Promise<ShotState> {
  const document = await documentOf(at);
  withRoom(document);
  const before = plateOf(document, id);
  requireUnlocked(before);
  const { taken, left } = await longWork({ shot: at.id, name: called, verb: 'Cutting' }, (follow) =>
    inThread('split', { document, plate: before, choice }, { follow }),
  );
  return changeShot(at, `Split ${called} off ${before.name}`, async (em, current) => {
    const chosen = before.piece ? null : await storeChoice(em, choice);
    const off: Plate = { ...before, ...taken, id: randomUUID(), name: called, choice: chosen };
    const rest: Plate = { ...before, ...left, choice: null };
    return { ...current, plates: current.plates.flatMap((p) => (p.id === id ? [rest, off] : [p])) };
  });
}

/** A plate of another shot, with its colours and its depth, in the middle of this one. */
async function bringPlate(at: ShotAt, { shot, plate: id }: Act<'bring'>): Promise<ShotState> {
  const { source } = await documentOf(at);
  const from = (await shotState(shot)).document;
  const before = plateOf(from, id);
  const made = await inThread('bringPlate', { from, plate: before, source });
  return changeShot(at, `Bring in ${before.name}`, (_em, current) =>
    Promise.resolve({ ...current, plates: [...withRoom(current), made.plate] }),
  );
}

/** Matches a brought-in plate's colours to its surroundings, in full strength. @throws Problem `not-brought-in` */
async function matchPlate(at: ShotAt, id: string): Promise<ShotState> {
  const { source, plates } = await documentOf(at);
  const before = plateOf({ plates }, id);
  requireUnlocked(before);
  if (!before.piece)
    throw new Problem(
      422,
      'not-brought-in',
      `${before.name} has the picture’s own colours; only a plate that was brought in is matched.`,
    );
  const { piece } = await inThread('match', { piece: before.piece, source });
  return changeShot(at, `Match ${before.name}’s colours`, (_em, current) =>
    Promise.resolve({ ...current, plates: current.plates.map((p) => (p.id === id ? { ...p, piece } : p)) }),
  );
}
