import { shiftChoice } from '@/core/matte/choice';
import { randomUUID } from 'node:crypto';
import { unlink } from 'node:fs/promises';
import { join } from 'node:path';
import type { EntityManager } from '@mikro-orm/postgresql';
import { z } from 'zod';
import { coverageOf, type Coverage } from '@/core/fill/coverage';
import { BORDER_METHODS, extendedSize, extendPlane, type Border } from '@/core/inpaint/extendBorder';
import type { DepthMap, Picture } from '@/core/raster/picture';
import type { Plate, ShotDocument } from '@/core/shot/document';
import { eyePositions } from '@/core/stereo/parallax';
import { cacheDir, LIMITS } from '../config';
import { Problem } from '../http/problem';
import { decodeToRaster, readRaster, sourceRaster } from '../media/decode';
import { storeFile } from '../media/store';
import { readStoredPicture, storePicture } from '../rasters/pictures';
import { loadRevision, readMap, storeMap } from '../rasters/tiles';
import { extendOrdered } from './longWork';
import { shotRasters } from './platePixels';
import { changeShot, shotState, type ShotState } from './shots';

const px = z.number().int().min(0).max(20_000);
/** More canvas around the picture, px a side. */
export const borderSchema = z.strictObject({
  left: px,
  top: px,
  right: px,
  bottom: px,
  method: z.enum(BORDER_METHODS),
  seed: z.number().int().min(0).max(1e9),
});
export type BorderOrder = z.infer<typeof borderSchema>;

/** How far the views run out of picture at the old frame's edges, px at full size. */
export async function coverage(id: string, views: number): Promise<Coverage> {
  const { document } = await shotState(id);
  const { source, frame } = document;
  const found = coverageOf(
    document,
    await shotRasters(document, await readRaster(await sourceRaster(source), source.bits)),
    eyePositions(views),
    1,
  );
  // What lies outside the frame may run dry.
  const left = frame ? frame.left : 0;
  const right = frame ? source.width - frame.left - frame.width : 0;
  return { ...found, left: Math.max(0, found.left - left), right: Math.max(0, found.right - right) };
}

/**
 * Extends the canvas: the picture by the chosen way, depth and mattes by their outermost values, fills by nothing. The frame, to which
 * everything that is handed over is cropped, stays where it was. One step of the history; the file as it came is kept.
 */
export async function extendBorder(id: string, expectedHead: number, order: BorderOrder): Promise<ShotState> {
  const { document, head } = await shotState(id);
  const { source } = document;
  if (head !== expectedHead) throw Problem.movedOn(head);
  const size = extendedSize(source, order);
  if (size.width === source.width && size.height === source.height)
    throw new Problem(422, 'no-border', 'The border is 0 px at every side, so nothing was changed.');
  if (size.width * size.height > LIMITS.pixels)
    throw new Problem(
      422,
      'too-many-pixels',
      `The canvas would have ${size.width} × ${size.height} px; at most ${LIMITS.pixels / 1e6} megapixels can be worked on. Add less.`,
    );
  const { method, seed, ...border } = order;
  const path = join(cacheDir('incoming'), `${randomUUID()}.png`);
  try {
    await extendOrdered(id, {
      raster: await sourceRaster(source),
      bits: source.bits,
      hasAlpha: source.hasAlpha,
      out: path,
      border,
      method,
      seed,
    });
    return await changeShot(id, expectedHead, 'Extend the canvas', async (em, current) =>
      extended(em, current, order, path, size),
    );
  } finally {
    await unlink(path).catch(() => undefined);
  }
}

async function extended(
  em: EntityManager,
  document: ShotDocument,
  border: Border,
  path: string,
  size: { width: number; height: number },
): Promise<ShotDocument> {
  const { source, frame } = document;
  const stem = source.fileName.replace(/\.[^.]+$/, '');
  const media = await storeFile(em, path, `${stem} extended.png`, 'image/png');
  await decodeToRaster(path, join(cacheDir('source'), `${media.id}.v`), source.bits, source.fileName);
  const map = async (id: string): Promise<string> =>
    (await storeMap(em, extendPlane<DepthMap>(await readMap(em, await loadRevision(em, id)), border))).id;
  const picture = async (id: string | null): Promise<string | null> =>
    id === null ? null : (await storePicture(em, padded(await readStoredPicture(em, id, 16), border))).id;
  const plates: Plate[] = [];
  for (const p of document.plates) {
    const moved = p.piece && {
      ...p.piece,
      placement: { ...p.piece.placement, x: p.piece.placement.x + border.left, y: p.piece.placement.y + border.top },
    };
    // A brought-in piece ends where it ends; what was cut from the picture goes on with it.
    const matte =
      p.matte === null
        ? null
        : moved
          ? (await storeMap(em, extendPlane<DepthMap>(await readMap(em, await loadRevision(em, p.matte)), border, 0)))
              .id
          : await map(p.matte);
    plates.push({
      ...p,
      piece: moved,
      matte,
      choice: p.choice && shiftChoice(p.choice, border.left, border.top),
      fill: await picture(p.fill),
      overpaint: await picture(p.overpaint),
      depth: { ...p.depth, revision: p.depth.revision === null ? null : await map(p.depth.revision) },
    });
  }
  return {
    ...document,
    source: { ...source, mediaId: media.id, ...size },
    plates,
    fill: await picture(document.fill),
    overpaint: await picture(document.overpaint),
    depth: {
      ...document.depth,
      revision: await map(document.depth.revision),
      behind: document.depth.behind === null ? null : await map(document.depth.behind),
    },
    frame: frame
      ? { ...frame, left: frame.left + border.left, top: frame.top + border.top }
      : { left: border.left, top: border.top, width: source.width, height: source.height, mediaId: source.mediaId },
  };
}

/** A fill on the larger canvas: nothing is filled in the new part. */
function padded({ width, height, data }: Picture, border: Border): Picture {
  const size = extendedSize({ width, height }, border);
  const out = new Uint16Array(size.width * size.height * 4);
  for (let y = 0; y < height; y++)
    out.set(data.subarray(y * width * 4, (y + 1) * width * 4), ((y + border.top) * size.width + border.left) * 4);
  return { ...size, data: out };
}
