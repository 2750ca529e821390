import type { Painted } from '@/core/shot/rasters';
import { basename, join } from 'node:path';
import { mkdir, readdir, rm } from 'node:fs/promises';
import { randomUUID } from 'node:crypto';
import type { EntityManager } from '@mikro-orm/postgresql';
import { widened } from '@/core/raster/bits';
import { isDeep, type Picture } from '@/core/raster/picture';
import type { Plate, ShotDocument } from '@/core/shot/document';
import { platePicture } from '@/core/shot/plates';
import { cacheDir } from '../config';
import { Problem } from '../http/problem';
import { readRaster, sourceRaster } from '../media/decode';
import { inspectPicture } from '../media/inspect';
import { ORA_MIME, readOpenRaster, writeOpenRaster } from '../media/openRaster';
import { readPlateFolder, type PlateFiles } from '../media/readPlates';
import { writePlates } from '../media/writePlates';
import { inFolder, unpackZip, zipFolder } from '../media/zip';
import { storePicture } from '../rasters/pictures';
import { storeMap } from '../rasters/tiles';
import { bakePiece, begunPlate, flatDepth, storeCover, storePiece } from './pieces';
import { requireUnlocked, withRoom } from './plateList';
import { storedPlates } from './platePixels';
import { changeShot, shotState, type ShotState } from './shots';

const EXPORTS = ['zip', 'trimmed', 'ora'] as const;
export type PlatesExport = (typeof EXPORTS)[number];
export const PLATES_EXPORTS = EXPORTS;

/** All plates of a shot in one file: a zip of the plates folder (same canvas, or trimmed), or an OpenRaster. */
export async function exportPlates(
  id: string,
  form: PlatesExport,
): Promise<{ body: ReadableStream; name: string; mime: string }> {
  const { document, name } = await shotState(id);
  const source = await readRaster(await sourceRaster(document.source), document.source.bits);
  const shot = { name, document, source, ...(await storedPlates(document)) };
  // The folder is removed when the stream has ended.
  const dir = join(cacheDir('outgoing'), randomUUID());
  await mkdir(dir, { recursive: true });
  try {
    if (form === 'ora')
      return { body: zipFolder(dir, await writeOpenRaster(dir, shot)), name: `${name}.ora`, mime: ORA_MIME };
    await writePlates(dir, shot, { trimmed: form === 'trimmed' });
    const files = (await readdir(dir)).sort();
    return {
      body: zipFolder(
        dir,
        files.map((f) => ({ name: f, from: f, compress: f.endsWith('.json') })),
      ),
      name: `${name} plates.zip`,
      mime: 'application/zip',
    };
  } catch (error) {
    await rm(dir, { recursive: true, force: true });
    throw error;
  }
}

/**
 * Brings plates in from a file: a zip that was handed out here replaces the shot's plates, whole; an OpenRaster's layers and a
 * picture become plates with colours of their own.
 */
export async function importPlates(
  id: string,
  expectedHead: number,
  path: string,
  fileName: string,
  kind: 'zip' | 'picture',
): Promise<ShotState> {
  if (kind === 'picture') return importPicture(id, expectedHead, path, fileName);
  return inFolder(async (dir) => {
    const names = await unpackZip(path, fileName, dir, (name) => /\.(png|json|xml)$/i.test(name));
    if (names.includes('stack.xml')) return importOpenRaster(id, expectedHead, dir, fileName);
    if (names.includes('plates.json')) return importFolder(id, expectedHead, dir, fileName);
    throw new Problem(
      415,
      'no-plates',
      `${fileName} is a zip without plates.json or stack.xml. Bring in a zip of plates that was handed out here, an OpenRaster, or a picture.`,
    );
  });
}

async function importPicture(id: string, expectedHead: number, path: string, fileName: string): Promise<ShotState> {
  await inspectPicture(path, fileName);
  return changeShot(id, expectedHead, `Bring in ${fileName}`, async (em, document) => {
    withRoom(document);
    const piece = await storePiece(em, path, fileName, document.source);
    return {
      ...document,
      plates: [...document.plates, await coveredPlate(em, { ...begunPlate(nameOf(fileName)), piece }, document)],
    };
  });
}

const nameOf = (fileName: string): string =>
  basename(fileName)
    .replace(/\.[^.]+$/, '')
    .trim()
    .slice(0, 60) || 'Plate';

/** A plate with a piece, with the matte of what that covers and a flat depth. */
async function coveredPlate(em: EntityManager, plate: Plate, document: ShotDocument): Promise<Plate> {
  return {
    ...plate,
    matte: await storeCover(em, plate.piece!, document.source),
    depth: { ...plate.depth, revision: (await storeMap(em, flatDepth(document.source))).id },
  };
}

async function importFolder(id: string, expectedHead: number, dir: string, fileName: string): Promise<ShotState> {
  const { list, back, plates } = await readPlateFolder(dir);
  const {
    document: { source },
  } = await shotState(id);
  if (list.width !== source.width || list.height !== source.height) {
    throw new Problem(
      422,
      'other-size',
      `${fileName} holds plates of a picture of ${list.width} × ${list.height} px, but this one is ${source.width} × ${source.height} px. Bring it back into the shot it came from.`,
    );
  }
  const picture = await readRaster(await sourceRaster(source), source.bits);
  return changeShot(
    id,
    expectedHead,
    `Bring back ${plates.length} ${plates.length === 1 ? 'plate' : 'plates'}`,
    async (em, document) => {
      document.plates.forEach(requireUnlocked);
      withRoom({ ...document, plates: [] }, plates.length);
      const made: Plate[] = [];
      for (const open of plates) made.push(await broughtBack(em, await open(), picture));
      const { near, far } = back.entry;
      return {
        ...document,
        plates: made,
        ...(await storePainted(em, back.painted)),
        depth: {
          revision: (await storeMap(em, back.depth)).id,
          near,
          far,
          behind: back.behind ? (await storeMap(em, back.behind)).id : null,
        },
      };
    },
  );
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
  source: Picture,
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
    choice: same ? choice : null,
    piece: same ? null : await bakePiece(em, picture, entry.picture),
    matte: (await storeMap(em, { ...matte, data: widened(matte.data) })).id,
    depth: { revision: (await storeMap(em, depth)).id, near, far },
  };
}

async function importOpenRaster(id: string, expectedHead: number, dir: string, fileName: string): Promise<ShotState> {
  const { width, height, layers } = await readOpenRaster(dir, fileName);
  const headers = await Promise.all(layers.map((l) => inspectPicture(join(dir, l.src), `${l.name} of ${fileName}`)));
  // The lowest layer is the ground where it fills the canvas without a gap: this shot has one already.
  const last = layers.length - 1;
  const grounds =
    layers.length > 1 &&
    layers[last].x <= 0 &&
    layers[last].y <= 0 &&
    headers[last].width >= width &&
    headers[last].height >= height;
  const brought = grounds ? layers.slice(0, -1) : layers;
  return changeShot(id, expectedHead, `Bring in ${fileName}`, async (em, document) => {
    withRoom(document, brought.length);
    const { source } = document;
    const made: Plate[] = [];
    for (const [n, layer] of brought.entries()) {
      const at = {
        x: layer.x + headers[n].width / 2 + (source.width - width) / 2,
        y: layer.y + headers[n].height / 2 + (source.height - height) / 2,
      };
      // The stack's order becomes an order in depth: from near to far in even steps.
      const middle = 0.9 - (0.7 * n) / Math.max(1, brought.length);
      const plate = {
        ...begunPlate(layer.name),
        piece: await storePiece(em, join(dir, layer.src), `${layer.name.slice(0, 200)}.png`, source, at),
        hidden: !layer.visible,
        depth: { revision: null, near: round(middle + 0.03), far: round(middle - 0.03) },
      };
      made.push(await coveredPlate(em, plate, document));
    }
    return { ...document, plates: [...document.plates, ...made] };
  });
}

const round = (v: number): number => Math.round(v * 1000) / 1000;
