import type { ShotRasters } from '@/core/shot/rasters';
import { fillEditLabel, fillEditSchema } from '@/core/fill/edits';
import type { Rect } from '@/core/raster/geometry';
import { z } from 'zod';
import type { EntityManager } from '@mikro-orm/postgresql';
import { FILL_METHODS } from '@/core/inpaint/fillHole';
import type { PlateGround } from '@/core/fill/plateGround';
import { Reveal } from '@/core/fill/revealMap';
import { ChoiceMaker, choiceSchema } from '@/core/matte/choice';
import { isDeep, type Mask, type Picture } from '@/core/raster/picture';
import type { ShotDocument } from '@/core/shot/document';
import { eyePositions } from '@/core/stereo/parallax';
import { database } from '../db/orm';
import { Problem } from '../http/problem';
import { readRasterEightBits, sourceRaster } from '../media/decode';
import { storeChanged, storePicture } from '../rasters/pictures';
import { loadRevision, readMap } from '../rasters/tiles';
import { fillOrdered } from './longWork';
import { dropGround, inTurn, keepGround, openGround, paintedOf } from './openGround';
import { plateOf, requireUnlocked } from './plateList';
import { changeShot, shotState, type ShotState } from './shots';

const plate = z.uuid().nullable();
const seed = z.number().int().min(0).max(1e9);

/** What can be done to what was filled in behind the plates: by the machine, by hand, or undone. */
export const fillActionSchema = z.discriminatedUnion('action', [
  z.strictObject({
    action: z.literal('fill'),
    plate,
    method: z.enum(FILL_METHODS),
    seeds: z.array(seed).min(1).max(4),
    /** What the views uncover with a margin, all that is hidden, or what a choice holds of it. */
    area: z.discriminatedUnion('kind', [
      z.strictObject({
        kind: z.literal('reveal'),
        views: z.number().int().min(2).max(200),
        marginPx: z.number().min(0).max(400),
      }),
      z.strictObject({ kind: z.literal('hidden') }),
      z.strictObject({ kind: z.literal('choice'), choice: choiceSchema }),
    ]),
    /** Which part of the plate's own pixels is sampled. */
    sample: z.discriminatedUnion('kind', [
      z.strictObject({ kind: z.enum(['everywhere', 'left', 'right', 'above', 'below']) }),
      z.strictObject({ kind: z.literal('choice'), choice: choiceSchema }),
    ]),
  }),
  /** Takes one of several proposals. */
  z.strictObject({ action: z.literal('take'), plate, revision: z.uuid() }),
  z.strictObject({ action: z.literal('edit'), plate, edit: fillEditSchema }),
  /** Throws away all that was filled in. */
  z.strictObject({ action: z.literal('clear'), plate }),
]);
export type FillAction = z.infer<typeof fillActionSchema>;

/** What an action gives: the shot as it then stands; and the other proposals, where there are several. */
export type Filled = ShotState & { readonly proposals?: readonly string[] };

/** Does something to a plate's fill; each is one step of the history. @throws Problem `plate-locked`, `nothing-hidden`, `nothing-revealed` */
export async function actOnFill(id: string, expectedHead: number, action: FillAction): Promise<Filled> {
  const { document, head } = await shotState(id);
  if (head !== expectedHead) throw Problem.movedOn(head);
  const name = nameOf(document, action.plate);
  if (action.plate !== null) requireUnlocked(plateOf(document, action.plate));
  const store = (label: string, made: (tx: EntityManager) => Promise<string | null>): Promise<ShotState> =>
    changeShot(id, expectedHead, label, async (tx, current) =>
      withPainted(current, action.plate, { fill: await made(tx) }),
    );
  switch (action.action) {
    case 'clear':
      return changeShot(id, expectedHead, `Throw away the fill of ${name}`, (_tx, current) =>
        Promise.resolve(withPainted(current, action.plate, { fill: null, overpaint: null })),
      );
    case 'take': {
      const revision = await loadRevision(await database(), action.revision);
      if (revision.width !== document.source.width * 4 || revision.height !== document.source.height)
        throw Problem.notFound('This proposal');
      return store(`Another fill of ${name}`, () => Promise.resolve(action.revision));
    }
    case 'edit':
      return inTurn(() => editByHand(id, expectedHead, action));
    case 'fill': {
      let before: Picture | undefined;
      let hole: Mask | undefined;
      const { pictures } = await fillOrdered(id, name, async (onProgress) => {
        const { ground, hand, rasters } = await openGround(document, action.plate, name, false);
        before = hand.fill;
        hole = await areaOf(document, action, ground, rasters, onProgress);
        return {
          picture: ground.picture,
          hole,
          sampleFrom: await sampleOf(document, action, ground, hole),
          method: action.method,
          seeds: action.method === 'smooth' ? action.seeds.slice(0, 1) : action.seeds,
        };
      });
      const filled = pictures.map((picture) => patched(before!, picture, hole!));
      const others: string[] = [];
      const state = await store(action.method === 'smooth' ? `Fill ${name} smoothly` : `Fill ${name}`, async (tx) => {
        const ids = [];
        for (const one of filled) ids.push((await storePicture(tx, one)).id);
        others.push(...ids);
        return ids[0];
      });
      return { ...state, proposals: others };
    }
  }
}

/** One stroke, piece or line: the tiles that it touched are stored, no others. */
async function editByHand(
  id: string,
  expectedHead: number,
  { plate: of, edit }: Extract<FillAction, { action: 'edit' }>,
): Promise<ShotState> {
  const { document, head } = await shotState(id);
  if (head !== expectedHead) throw Problem.movedOn(head);
  const open = await openGround(document, of, nameOf(document, of), edit.kind === 'erase' || edit.beyond);
  const was = paintedOf(document, of);
  try {
    const { hand } = open;
    const rect = hand.apply(edit);
    const state = await changeShot(id, expectedHead, fillEditLabel(edit), async (tx, current) =>
      withPainted(current, of, {
        fill: (await storeChanged(tx, was.fill, hand.fill, rect)).id,
        overpaint:
          was.overpaint === null && !landsBeyond(hand.overpaint, rect)
            ? null
            : (await storeChanged(tx, was.overpaint, hand.overpaint, rect)).id,
      }),
    );
    keepGround(open, paintedOf(state.document, of));
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

/** Filled beyond what is uncovered, px: a preview at another size rounds its edges otherwise. */
const SEAM_ROOM = 2;

type Order = Extract<FillAction, { action: 'fill' }>;

async function choiceMask(document: ShotDocument, choice: z.infer<typeof choiceSchema>): Promise<Mask> {
  const em = await database();
  return new ChoiceMaker(await readRasterEightBits(await sourceRaster(document.source))).make(
    choice,
    await readMap(em, await loadRevision(em, document.depth.revision)),
  );
}

async function areaOf(
  document: ShotDocument,
  { area, plate: id }: Order,
  { hidden }: PlateGround<Picture>,
  rasters: ShotRasters<Picture>,
  onProgress: (share: number) => Promise<void>,
): Promise<Mask> {
  if (area.kind === 'hidden') return hidden;
  let mask: Mask | undefined;
  if (area.kind === 'reveal') {
    const reveal = new Reveal(document, rasters, 1);
    for (const share of reveal.see(eyePositions(area.views))) await onProgress(share);
    mask = reveal.found(area.marginPx + SEAM_ROOM).find((r) => r.id === id)?.mask;
  } else mask = await choiceMask(document, area.choice);
  const within: Mask = { ...hidden, data: hidden.data.map((v, i) => (v && mask && mask.data[i] >= 128 ? 255 : 0)) };
  if (!within.data.some((v) => v > 0)) {
    throw area.kind === 'reveal'
      ? new Problem(
          422,
          'nothing-revealed',
          'No view uncovers anything of it at this budget, so there is nothing to fill.',
        )
      : new Problem(
          422,
          'nothing-hidden',
          'The choice holds nothing that nearer plates hide, so there is nothing to fill.',
        );
  }
  return within;
}

/** Where samples may be taken: the plate's own pixels, never those of nearer plates. */
async function sampleOf(
  document: ShotDocument,
  { sample }: Order,
  { own }: PlateGround<Picture>,
  hole: Mask,
): Promise<Mask> {
  if (sample.kind === 'everywhere') return own;
  if (sample.kind === 'choice') {
    const chosen = await choiceMask(document, sample.choice);
    return { ...own, data: own.data.map((v, i) => (v && chosen.data[i] >= 128 ? 255 : 0)) };
  }
  const { width, height } = hole;
  let x = 0;
  let y = 0;
  let n = 0;
  for (let i = 0; i < hole.data.length; i++)
    if (hole.data[i]) {
      x += i % width;
      y += Math.floor(i / width);
      n++;
    }
  x /= n;
  y /= n;
  const side = (px: number, py: number): boolean =>
    sample.kind === 'left' ? px < x : sample.kind === 'right' ? px > x : sample.kind === 'above' ? py < y : py > y;
  return { width, height, data: own.data.map((v, i) => (v && side(i % width, Math.floor(i / width)) ? 255 : 0)) };
}

/** What was filled in before, with a hole's pixels taken from a picture. */
function patched(fill: Picture, picture: Picture, hole: Mask): Picture {
  const out = { ...fill, data: fill.data.slice() } as Picture;
  const most = isDeep(fill) ? 65535 : 255;
  for (let i = 0; i < hole.data.length; i++)
    if (hole.data[i] >= 128) {
      for (let c = 0; c < 3; c++) out.data[i * 4 + c] = picture.data[i * 4 + c];
      out.data[i * 4 + 3] = most;
    }
  return out;
}

function withPainted(
  document: ShotDocument,
  id: string | null,
  painted: { readonly fill?: string | null; readonly overpaint?: string | null },
): ShotDocument {
  if (id === null) return { ...document, ...painted };
  requireUnlocked(plateOf(document, id));
  return { ...document, plates: document.plates.map((p) => (p.id === id ? { ...p, ...painted } : p)) };
}
