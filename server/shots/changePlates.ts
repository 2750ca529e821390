import type { CutPlate } from '@/core/shot/rasters';
import { randomUUID } from 'node:crypto';
import type { EntityManager } from '@mikro-orm/postgresql';
import { moveDepth } from '@/core/depth/moveDepth';
import type { Choice } from '@/core/matte/choice';
import { joinMattes, splitMatte } from '@/core/matte/share';
import { narrowed, widened } from '@/core/raster/bits';
import { isDeep, type Mask, type Picture } from '@/core/raster/picture';
import type { Plate, ShotDocument } from '@/core/shot/document';
import { mergeDepth } from '@/core/shot/mergeDepth';
import { platePicture } from '@/core/shot/plates';
import { Problem } from '../http/problem';
import { readRaster, sourceRaster } from '../media/decode';
import { storePicture } from '../rasters/pictures';
import { storeMap } from '../rasters/tiles';
import { cutChoice } from './longWork';
import { bakePiece, begunPlate, matchedPiece, storeCover } from './pieces';
import { plateOf, requireUnlocked, withRoom } from './plateList';
import { storedPlate } from './platePixels';
import { changeShot, shotState, type ShotState } from './shots';

const sourceOf = async ({ source }: ShotDocument): Promise<Picture> =>
  readRaster(await sourceRaster(source), source.bits);
const stored16 = ({ width, height, data }: Mask) => ({ width, height, data: widened(data) });

/** @throws Problem `not-cut` for a plate that is only planned */
async function pixelsOf(document: ShotDocument, plate: Plate): Promise<CutPlate> {
  const pixels = await storedPlate(document, plate);
  if (!pixels) throw new Problem(422, 'not-cut', `${plate.name} is only planned and has no pixels yet. Cut it first.`);
  return pixels;
}

/** The same plate once more: nothing is copied, the same revisions are named again. */
export function duplicatePlate(id: string, expectedHead: number, plateId: string): Promise<ShotState> {
  return changeShot(id, expectedHead, 'Duplicate a plate', (_em, document) => {
    withRoom(document);
    const plate = plateOf(document, plateId);
    const taken = new Set(document.plates.map((p) => p.name));
    let name = `${plate.name.slice(0, 54)} copy`;
    for (let n = 2; taken.has(name); n++) name = `${plate.name.slice(0, 50)} copy ${n}`;
    return Promise.resolve({
      ...document,
      plates: document.plates.flatMap((p) =>
        p.id === plateId ? [p, { ...p, id: randomUUID(), name, locked: false }] : [p],
      ),
    });
  });
}

/** Two plates as one, which keeps the first one's name. Both from the source: it stays so; otherwise their colours become a piece of their own. */
export async function mergePlates(id: string, expectedHead: number, first: string, second: string): Promise<ShotState> {
  const { document } = await shotState(id);
  const plates = [plateOf(document, first), plateOf(document, second)] as const;
  if (first === second) throw new Problem(422, 'one-plate', 'A plate cannot be merged with itself.');
  plates.forEach(requireUnlocked);
  const [a, b] = [await pixelsOf(document, plates[0]), await pixelsOf(document, plates[1])];
  const own = plates.some((p) => p.piece !== null);
  const depth = mergeDepth({ ...a, ...plates[0].depth }, { ...b, ...plates[1].depth });
  let matte = joinMattes(a.matte, b.matte);
  let together: Picture | undefined;
  if (own) {
    const source = await sourceOf(document);
    const [under, upper] =
      plates[0].depth.near + plates[0].depth.far <= plates[1].depth.near + plates[1].depth.far ? [a, b] : [b, a];
    together = overStraight(platePicture(source, under), platePicture(source, upper));
    matte = {
      ...matte,
      data: Uint8Array.from({ length: matte.data.length }, (_, i) =>
        Math.round(together!.data[i * 4 + 3] / (isDeep(together!) ? 257 : 1)),
      ),
    };
  }
  return changeShot(id, expectedHead, `Merge ${plates[1].name} into ${plates[0].name}`, async (em, current) => {
    const piece = together ? await bakePiece(em, together, `${plates[0].name}.png`) : null;
    // A piece shows what was painted on it already; otherwise both plates' fills and strokes go on.
    const both = (what: 'fill' | 'overpaint'): Promise<string | null> =>
      own
        ? Promise.resolve(null)
        : mergedPainted(em, { id: plates[0][what], picture: a[what] }, { id: plates[1][what], picture: b[what] });
    const merged: Plate = {
      ...plates[0],
      choice: null,
      piece,
      fill: await both('fill'),
      overpaint: await both('overpaint'),
      matte: (await storeMap(em, stored16(matte))).id,
      depth: { revision: (await storeMap(em, depth.depth)).id, near: depth.near, far: depth.far },
    };
    return {
      ...current,
      plates: current.plates.flatMap((p) => (p.id === first ? [merged] : p.id === second ? [] : [p])),
    };
  });
}

/** What was put on two plates as one picture, the first one's above; nothing is stored anew where only one has any. */
async function mergedPainted(
  em: EntityManager,
  first: { readonly id: string | null; readonly picture?: Picture | undefined },
  second: typeof first,
): Promise<string | null> {
  if (!first.picture || !second.picture) return first.id ?? second.id;
  return (await storePicture(em, overStraight(second.picture, first.picture))).id;
}

/** One straight-alpha picture over another. Source: Porter and Duff 1984. */
function overStraight(under: Picture, upper: Picture): Picture {
  const most = isDeep(under) ? 65535 : 255;
  const out = { ...under, data: under.data.slice() } as Picture;
  for (let i = 0; i < out.data.length; i += 4) {
    const ua = upper.data[i + 3] / most;
    const a = ua + (under.data[i + 3] / most) * (1 - ua);
    if (a === 0) continue;
    for (let c = i; c < i + 3; c++) out.data[c] = Math.round((upper.data[c] * ua + under.data[c] * (a - ua)) / a);
    out.data[i + 3] = Math.round(a * most);
  }
  return out;
}

/** Parts a plate along a choice; both keep their depth. */
export async function splitPlate(
  id: string,
  expectedHead: number,
  order: { readonly plate: string; readonly name: string; readonly choice: Choice },
): Promise<ShotState> {
  const { document, head } = await shotState(id);
  if (head !== expectedHead) throw Problem.movedOn(head);
  withRoom(document);
  const plate = plateOf(document, order.plate);
  requireUnlocked(plate);
  const pixels = await pixelsOf(document, plate);
  const made = await cutChoice(
    id,
    order.name,
    document.source,
    order.choice,
    { depth: pixels.depth, ...plate.depth },
    [],
  );
  const { taken, left } = splitMatte(pixels.matte, { ...pixels.matte, data: narrowed(made.matte) });
  const some = (m: Mask): boolean => m.data.some((v) => v >= 128);
  if (!some(taken))
    throw new Problem(
      422,
      'nothing-taken',
      `The choice holds nothing of ${plate.name}, so nothing can be split off. Choose a part of the plate.`,
    );
  if (!some(left))
    throw new Problem(
      422,
      'all-taken',
      `The choice holds all of ${plate.name}, so nothing would be left of it. Choose a part of the plate.`,
    );
  const source = plate.piece ? await sourceOf(document) : undefined;
  return changeShot(id, expectedHead, `Split ${order.name} off ${plate.name}`, async (em, current) => {
    const part = async (matte: Mask): Promise<Pick<Plate, 'matte' | 'piece'>> => ({
      matte: (await storeMap(em, stored16(matte))).id,
      piece: source ? await bakePiece(em, platePicture(source, { ...pixels, matte }), plate.piece!.fileName) : null,
    });
    const off: Plate = {
      ...plate,
      ...(await part(taken)),
      id: randomUUID(),
      name: order.name,
      choice: plate.piece ? null : order.choice,
    };
    const rest: Plate = { ...plate, ...(await part(left)), choice: null };
    return { ...current, plates: current.plates.flatMap((p) => (p.id === plate.id ? [rest, off] : [p])) };
  });
}

/** A plate of another shot, with its colours and its depth, in the middle of this one. */
export async function bringPlate(
  id: string,
  expectedHead: number,
  fromShot: string,
  plateId: string,
): Promise<ShotState> {
  const from = (await shotState(fromShot)).document;
  const { source } = (await shotState(id)).document;
  const plate = plateOf(from, plateId);
  const pixels = await pixelsOf(from, plate);
  const alone = platePicture(await sourceOf(from), pixels);
  return changeShot(id, expectedHead, `Bring in ${plate.name}`, async (em, document) => {
    withRoom(document);
    const baked = await bakePiece(em, alone, `${plate.name}.png`);
    const scale = Math.max(
      0.01,
      Math.min(1, Math.floor(100 * Math.min(source.width / baked.width, source.height / baked.height)) / 100),
    );
    const piece = { ...baked, placement: { ...baked.placement, x: source.width / 2, y: source.height / 2, scale } };
    return {
      ...document,
      plates: [
        ...document.plates,
        await placedPlate(
          em,
          { ...begunPlate(plate.name), piece, depth: { revision: null, near: plate.depth.near, far: plate.depth.far } },
          source,
          moveDepth(pixels.depth, baked.placement, piece.placement, source),
        ),
      ],
    };
  });
}

async function placedPlate(
  em: Parameters<typeof storeMap>[0],
  plate: Plate,
  source: ShotDocument['source'],
  depth: Parameters<typeof storeMap>[1],
): Promise<Plate> {
  return {
    ...plate,
    matte: await storeCover(em, plate.piece!, source),
    depth: { ...plate.depth, revision: (await storeMap(em, depth)).id },
  };
}

/** Matches a brought-in plate's colours to its surroundings, in full strength. @throws Problem `not-brought-in` */
export async function matchPlate(id: string, expectedHead: number, plateId: string): Promise<ShotState> {
  const { document } = await shotState(id);
  const plate = plateOf(document, plateId);
  requireUnlocked(plate);
  if (!plate.piece)
    throw new Problem(
      422,
      'not-brought-in',
      `${plate.name} has the picture’s own colours; only a plate that was brought in is matched.`,
    );
  const piece = await matchedPiece(plate.piece, document.source);
  return changeShot(id, expectedHead, `Match ${plate.name}’s colours`, (_em, current) =>
    Promise.resolve({ ...current, plates: current.plates.map((p) => (p.id === plateId ? { ...p, piece } : p)) }),
  );
}
