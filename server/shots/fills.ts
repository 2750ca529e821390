import { loadRevision } from '../rasters/revisions';
import equal from 'fast-deep-equal';
import { atMoment } from '@/core/shot/atMoment';
import { fillEditLabel } from '@/core/fill/edits';
import type { Rect } from '@/core/raster/geometry';
import type { Picture } from '@/core/raster/picture';
import { HELD_STROKES, type HeldStroke, type ShotDocument } from '@/core/shot/document';
import { database } from '../db/orm';
import { Problem } from '../http/problem';
import { storeChanged } from '../rasters/pictures';
import { inThread } from '../threads/pool';
import type { FillAction, FillByHand, FillByMachine } from './fillActions';
import { changeShot, documentOf, shotState, type ShotAt, type ShotState } from './history';
import { layoutOf } from './layout';
import { longWork, workOf } from './longWork';
import { dropGround, inTurn, keepGround, openGround } from './openGround';
import { plateOf, requireCut, requireUnlocked } from './plateList';
import { paintedOf } from './platePixels';

/** What an action gives: the shot as it then stands; and the other proposals, where there are several. */
export type Filled = ShotState & { readonly proposals?: readonly string[] };

/**
 * Does something to a plate's fill; each is one step of the history. @throws Problem `plate-locked`, `nothing-hidden`,
 * `nothing-revealed`
 */
export async function actOnFill(at: ShotAt, action: FillAction): Promise<Filled> {
  const document = await documentOf(at);
  const { plate } = action;
  const name = nameOf(document, plate);
  if (plate !== null && document.footage)
    throw new Problem(
      422,
      'not-on-footage',
      `On a film only the back plate is filled: ${name} goes on smoothly behind nearer plates.`,
    );
  if (plate !== null) requireUnlocked(plateOf(document, plate));
  switch (action.action) {
    case 'clear':
      return changeShot(at, `Throw away the fill of ${name}`, (_tx, current) =>
        Promise.resolve(withPainted(current, plate, { fill: null, overpaint: null })),
      );
    case 'take': {
      const { revision: taken } = action;
      const revision = await loadRevision(await database(), taken);
      if (revision.width !== document.source.width * 4 || revision.height !== document.source.height)
        throw Problem.notFound('This proposal');
      return changeShot(at, `Another fill of ${name}`, (_tx, current) =>
        Promise.resolve(withPainted(current, plate, { fill: taken })),
      );
    }
    case 'let-go': {
      const { stroke } = action;
      return changeShot(at, `Let go of a stroke of ${name}`, (_tx, current) => {
        const held = paintedOf(current, plate).strokes;
        const strokes = held.filter((s) => s.id !== stroke);
        if (strokes.length === held.length) throw Problem.notFound('This stroke');
        return Promise.resolve(withPainted(current, plate, { strokes }));
      });
    }
    case 'edit':
      return inTurn(() => editByHand(at, action));
    case 'fill':
      return fillByMachine(at, document, action);
  }
}

/** Does beforehand what every fill of a shot takes, where it is not being worked on. */
export async function readyToFill(id: string): Promise<void> {
  const { document } = await shotState(id);
  // A film is laid out at the frame that will be asked for, not at its first.
  const hides = !document.footage && document.plates.some((p) => p.matte !== null);
  if (hides && !workOf(id)) await inThread('readyFill', { document });
}

/** Fills in a thread; what was changed meanwhile is kept, where the fill still fits. */
async function fillByMachine(at: ShotAt, document: ShotDocument, order: FillByMachine): Promise<Filled> {
  const { plate, area } = order;
  if (plate !== null) requireCut(plateOf(document, plate));
  const { strokes } = paintedOf(document, plate);
  if (area.kind === 'beside' && strokes.length >= HELD_STROKES)
    throw new Problem(
      422,
      'too-many-strokes',
      `${HELD_STROKES} strokes are held for ${nameOf(document, plate)} already. Let go of those that its fills need not heed any more.`,
    );
  const name = nameOf(document, plate);
  const { revisions } = await longWork({ shot: at.id, name, verb: 'Filling', plate }, (follow) =>
    inThread('fill', { document, name, order }, { follow }),
  );
  const label = labelOf(order, name);
  const was = paintedOf(document, plate);
  const fits = (current: ShotDocument): boolean =>
    layoutOf(current) === layoutOf(document) && equal(paintedOf(current, plate), was);
  return changeShot(
    at,
    label,
    (_tx, current) =>
      Promise.resolve({
        document: withPainted(current, plate, {
          fill: revisions[0],
          ...(area.kind === 'beside' ? { strokes: [...paintedOf(current, plate).strokes, area.stroke] } : {}),
        }),
        answer: { proposals: revisions },
      }),
    { fits },
  );
}

function labelOf({ area, method }: FillByMachine, name: string): string {
  if (area.kind === 'beside')
    return area.stroke.kind === 'border' ? `Part two grounds of ${name}` : `Fill ${name} beside a line`;
  return method === 'smooth' ? `Fill ${name} smoothly` : `Fill ${name}`;
}

/** One stroke, piece or line: the tiles that it touched are stored, no others. */
async function editByHand(at: ShotAt, { plate, edit }: FillByHand): Promise<ShotState> {
  const document = await documentOf(at);
  const beyond = edit.kind === 'erase' || edit.beyond;
  const open = await openGround(document, plate, { name: nameOf(document, plate), beyond });
  const was = paintedOf(document, plate);
  try {
    const { hand } = open;
    const rect = hand.apply(edit);
    const state = await changeShot(at, fillEditLabel(edit), async (tx, current) => {
      const untouched = was.overpaint === null && !landsBeyond(hand.overpaint, rect);
      return withPainted(current, plate, {
        fill: (await storeChanged(tx, was.fill, hand.fill, rect)).id,
        overpaint: untouched ? null : (await storeChanged(tx, was.overpaint, hand.overpaint, rect)).id,
      });
    });
    keepGround(open, paintedOf(atMoment(state.document, at.moment ?? 0), plate));
    return state;
  } catch (error) {
    dropGround();
    throw error;
  }
}

const nameOf = (document: ShotDocument, id: string | null): string =>
  id === null ? 'the back plate' : plateOf(document, id).name;

/** True where an edit has put anything over the plate's own pixels. */
function landsBeyond({ width, data }: Picture, { left, top, right, bottom }: Rect): boolean {
  for (let y = top; y < bottom; y++)
    for (let x = left; x < right; x++) if (data[(y * width + x) * 4 + 3] > 0) return true;
  return false;
}

function withPainted(
  document: ShotDocument,
  id: string | null,
  painted: { readonly fill?: string | null; readonly overpaint?: string | null; readonly strokes?: HeldStroke[] },
): ShotDocument {
  if (id === null) return { ...document, ...painted };
  requireUnlocked(plateOf(document, id));
  return { ...document, plates: document.plates.map((p) => (p.id === id ? { ...p, ...painted } : p)) };
}
