import { loadRevision, readMap, storeMap } from '../rasters/revisions';
import { randomUUID } from 'node:crypto';
import { unlink } from 'node:fs/promises';
import { join } from 'node:path';
import type { EntityManager } from '@mikro-orm/postgresql';
import { extendedSize, extendPicture, extendPlane, type Border, type BorderMethod } from '@/core/inpaint/extendBorder';
import { shiftChoice } from '@/core/matte/choice';
import { pictureOf, type DepthMap, type Picture16, type Straight } from '@/core/raster/picture';
import {
  shiftHeldMarks,
  shiftStroke,
  type HeldMarks,
  type KeptDepth,
  type Plate,
  type ShotDocument,
} from '@/core/shot/document';
import { cacheDir } from '../config';
import { inTransaction } from '../db/orm';
import { decodeToRaster } from '../media/decode';
import { storeFile } from '../media/store';
import { writePicture } from '../media/writePicture';
import { readStoredPicture, storePicture } from '../rasters/pictures';
import { loadChoice, storeChoice } from '../shots/choices';
import { sourcePicture } from '../shots/platePixels';
import { task } from './task';

/** How much canvas is added, and what is put there. */
export interface Extending {
  readonly border: Border;
  readonly method: BorderMethod;
  readonly seed: number;
}

/** Share of the work that the picture takes. */
const PICTURE = 0.8;

/**
 * A shot on a larger canvas: the picture by the chosen way, depth and mattes by their outermost values, fills by
 * nothing.
 * @throws CoreError what extending throws
 */
export const extend = task<
  { readonly document: ShotDocument; readonly extending: Extending },
  { readonly document: ShotDocument }
>(async ({ document, extending: { border, method, seed } }, onProgress) => {
  const { source } = document;
  const path = join(cacheDir('incoming'), `${randomUUID()}.png`);
  try {
    const picture = extendPicture(await sourcePicture(document), border, method, {
      seed,
      onProgress: (share) => {
        onProgress(share * PICTURE);
      },
    });
    await writePicture(path, picture, source.bits === 16 ? 'png16' : 'png', { alpha: source.hasAlpha });
    return await inTransaction(async (em) => ({ document: await extended(em, document, border, path) }));
  } finally {
    await unlink(path).catch(() => undefined);
  }
});

async function extended(
  em: EntityManager,
  document: ShotDocument,
  border: Border,
  path: string,
): Promise<ShotDocument> {
  const { source, frame } = document;
  const stem = source.fileName.replace(/\.[^.]+$/, '');
  const media = await storeFile(em, path, `${stem} extended.png`, 'image/png');
  await decodeToRaster(path, join(cacheDir('source'), `${media.id}.v`), source.bits, source.fileName);
  const map = async (id: string, fill?: number): Promise<string> =>
    (await storeMap(em, extendPlane<DepthMap>(await readMap(em, await loadRevision(em, id)), border, fill))).id;
  const picture = async (id: string | null): Promise<string | null> =>
    id === null ? null : (await storePicture(em, padded(await readStoredPicture(em, id, 16), border))).id;
  const plates: Plate[] = [];
  for (const p of document.plates) {
    const piece = p.piece && {
      ...p.piece,
      placement: {
        ...p.piece.placement,
        x: p.piece.placement.x + border.left,
        y: p.piece.placement.y + border.top,
      },
    };
    plates.push({
      ...p,
      piece,
      // A brought-in piece ends where it ends; what was cut from the picture goes on with it.
      matte: p.matte === null ? null : await map(p.matte, piece ? 0 : undefined),
      choice: p.choice && (await storeChoice(em, shiftChoice(await loadChoice(em, p.choice), border.left, border.top))),
      fill: await picture(p.fill),
      overpaint: await picture(p.overpaint),
      strokes: p.strokes.map((s) => shiftStroke(s, border.left, border.top)),
      depth: { ...p.depth, revision: p.depth.revision === null ? null : await map(p.depth.revision) },
    });
  }
  const { depth } = document;
  const marks: HeldMarks[] = [];
  const keptDepths: KeptDepth[] = [];
  for (const kept of document.keptDepths) keptDepths.push({ ...kept, revision: await map(kept.revision) });
  for (const held of document.marks) {
    const maps = { base: await map(held.base), made: held.made && (await map(held.made)) };
    marks.push(shiftHeldMarks(held, maps, border.left, border.top));
  }
  return {
    ...document,
    source: { ...source, mediaId: media.id, ...extendedSize(source, border) },
    plates,
    marks,
    keptDepths,
    fill: await picture(document.fill),
    overpaint: await picture(document.overpaint),
    strokes: document.strokes.map((s) => shiftStroke(s, border.left, border.top)),
    depth: {
      ...depth,
      revision: await map(depth.revision),
      behind: depth.behind === null ? null : await map(depth.behind),
    },
    frame: frame
      ? { ...frame, left: frame.left + border.left, top: frame.top + border.top }
      : {
          left: border.left,
          top: border.top,
          width: source.width,
          height: source.height,
          mediaId: source.mediaId,
        },
  };
}

/** A fill on the larger canvas: nothing is filled in the new part. */
function padded({ width, height, data }: Straight, border: Border): Picture16<'straight'> {
  const size = extendedSize({ width, height }, border);
  const out = new Uint16Array(size.width * size.height * 4);
  for (let y = 0; y < height; y++)
    out.set(data.subarray(y * width * 4, (y + 1) * width * 4), ((y + border.top) * size.width + border.left) * 4);
  return pictureOf(size, out, 'straight');
}
