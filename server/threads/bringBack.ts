import { storeMap } from '../rasters/revisions';
import { join } from 'node:path';
import type { EntityManager } from '@mikro-orm/postgresql';
import { widened } from '@/core/raster/bits';
import { isDeep, type Straight } from '@/core/raster/picture';
import type { Plate, ShotDocument } from '@/core/shot/document';
import { platePicture } from '@/core/shot/plates';
import type { Painted } from '@/core/shot/rasters';
import { inTransaction } from '../db/orm';
import { Problem } from '../http/problem';
import { inspectPicture } from '../media/inspect';
import { readOpenRaster } from '../media/openRaster';
import { readPlateFolder, type PlateFiles } from '../media/readPlates';
import { storePicture } from '../rasters/pictures';
import { storeChoice } from '../shots/choices';
import { bakePiece, begunPlate, flatDepth, storeCover, storePiece } from '../shots/pieces';
import { sourcePicture } from '../shots/platePixels';
import { task } from './task';

/** What a file of plates holds: a picture, the layers of an unpacked OpenRaster, or an unpacked folder of plates. */
export interface BringBackOrder {
  readonly document: ShotDocument;
  readonly kind: 'picture' | 'open-raster' | 'folder';
  /** The picture, or the unpacked folder. */
  readonly path: string;
  readonly fileName: string;
  /** What the plate of a picture is called. */
  readonly plateName: string;
}

/** Plates that were made; and, where a whole folder came back, what belongs to the back plate. */
export interface BroughtBack {
  readonly plates: readonly Plate[];
  readonly back?: Pick<ShotDocument, 'depth' | 'fill' | 'overpaint'>;
}

/** Makes plates of a file. @throws Problem, CoreError what reading it throws */
export const bringBack = task<BringBackOrder, BroughtBack>(async (order) => {
  if (order.kind === 'folder') return ofFolder(order);
  if (order.kind === 'open-raster') return ofOpenRaster(order);
  const { document, path, fileName, plateName } = order;
  return inTransaction(async (em) => {
    const piece = await storePiece(em, path, fileName, { source: document.source });
    return { plates: [await coveredPlate(em, { ...begunPlate(plateName), piece }, document)] };
  });
});

/** A plate with a piece, with the matte of what that covers and a flat depth. */
async function coveredPlate(em: EntityManager, plate: Plate, { source }: ShotDocument): Promise<Plate> {
  return {
    ...plate,
    matte: await storeCover(em, plate.piece!, source),
    depth: { ...plate.depth, revision: (await storeMap(em, flatDepth(source))).id },
  };
}

async function ofFolder({ document, path, fileName }: BringBackOrder): Promise<BroughtBack> {
  const { list, back, plates } = await readPlateFolder(path);
  const { source } = document;
  if (list.width !== source.width || list.height !== source.height) {
    throw new Problem(
      422,
      'other-size',
      `${fileName} holds plates of a picture of ${list.width} × ${list.height} px, but this one is ${source.width} × ${source.height} px. Bring it back into the shot it came from.`,
    );
  }
  const picture = await sourcePicture(document);
  return inTransaction(async (em) => {
    const made: Plate[] = [];
    for (const open of plates) made.push(await broughtBack(em, await open(), picture));
    const { near, far } = back.entry;
    const behind = back.behind ? (await storeMap(em, back.behind)).id : null;
    return {
      plates: made,
      back: {
        depth: { revision: (await storeMap(em, back.depth)).id, near, far, behind },
        ...(await storePainted(em, back.painted)),
      },
    };
  });
}

async function storePainted(
  em: EntityManager,
  { fill, overpaint }: Painted,
): Promise<Pick<Plate, 'fill' | 'overpaint'>> {
  return {
    fill: fill ? (await storePicture(em, fill)).id : null,
    overpaint: overpaint ? (await storePicture(em, overpaint)).id : null,
  };
}

/** A plate of a folder. Its colours still come from the source where nobody has changed them meanwhile. */
async function broughtBack(
  em: EntityManager,
  { entry, picture, matte, depth, painted }: PlateFiles,
  source: Straight,
): Promise<Plate> {
  const expected = platePicture(source, { id: '', matte, depth, ...painted });
  const step = isDeep(source) ? 257 : 1;
  const same =
    isDeep(picture) === isDeep(expected) && expected.data.every((v, i) => Math.abs(v - picture.data[i]) <= step);
  const { name, near, far, hidden, locked, group, choice } = entry;
  return {
    ...begunPlate(name),
    hidden,
    locked,
    group,
    ...(await storePainted(em, painted)),
    choice: same && choice ? await storeChoice(em, choice) : null,
    piece: same ? null : await bakePiece(em, picture, entry.picture),
    matte: (await storeMap(em, { ...matte, data: widened(matte.data) })).id,
    depth: { revision: (await storeMap(em, depth)).id, near, far },
  };
}

async function ofOpenRaster({ document, path, fileName }: BringBackOrder): Promise<BroughtBack> {
  const { width, height, layers } = await readOpenRaster(path, fileName);
  const headers = await Promise.all(
    layers.map((layer) => inspectPicture(join(path, layer.src), `${layer.name} of ${fileName}`)),
  );
  // The lowest layer is the ground where it fills the canvas without a gap: this shot has one already.
  const last = layers.length - 1;
  const grounds =
    layers.length > 1 &&
    layers[last].x <= 0 &&
    layers[last].y <= 0 &&
    headers[last].width >= width &&
    headers[last].height >= height;
  const brought = grounds ? layers.slice(0, -1) : layers;
  return inTransaction(async (em) => {
    const { source } = document;
    const plates: Plate[] = [];
    for (const [n, layer] of brought.entries()) {
      const at = {
        x: layer.x + headers[n].width / 2 + (source.width - width) / 2,
        y: layer.y + headers[n].height / 2 + (source.height - height) / 2,
      };
      // The stack's order becomes an order in depth: from near to far in even steps.
      const middle = 0.9 - (0.7 * n) / Math.max(1, brought.length);
      const piece = await storePiece(em, join(path, layer.src), `${layer.name.slice(0, 200)}.png`, { source, at });
      const depth = { revision: null, near: thousandths(middle + 0.03), far: thousandths(middle - 0.03) };
      plates.push(
        await coveredPlate(em, { ...begunPlate(layer.name), piece, hidden: !layer.visible, depth }, document),
      );
    }
    return { plates };
  });
}

const thousandths = (v: number): number => Math.round(v * 1000) / 1000;
