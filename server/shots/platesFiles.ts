import { randomUUID } from 'node:crypto';
import { mkdir, rm } from 'node:fs/promises';
import { basename, join } from 'node:path';
import type { ShotDocument } from '@/core/shot/document';
import { cacheDir } from '../config';
import { Problem } from '../http/problem';
import { inspectPicture } from '../media/inspect';
import { ORA_MIME } from '../media/openRaster';
import { inFolder, unpackZip, zipFolder } from '../media/zip';
import type { BringBackOrder, BroughtBack } from '../threads/bringBack';
import type { PlatesExport } from '../threads/handOut';
import { inThread } from '../threads/pool';
import { changeShot, documentOf, shotState, type ShotAt, type ShotState } from './history';
import { requireUnlocked, withRoom } from './plateList';

/**
 * All plates of a shot, of a film as they are at a frame, in one file: a zip of the plates folder (same canvas, or
 * trimmed), or an OpenRaster.
 */
export async function exportPlates(
  id: string,
  form: PlatesExport,
  moment = 0,
): Promise<{ body: ReadableStream; name: string; mime: string }> {
  const { document, name } = await shotState(id, moment);
  // The folder is removed when the stream has ended.
  const dir = join(cacheDir('outgoing'), randomUUID());
  await mkdir(dir, { recursive: true });
  try {
    const { entries } = await inThread('handOut', { document, name, form, dir });
    const body = zipFolder(dir, entries);
    return form === 'ora'
      ? { body, name: `${name}.ora`, mime: ORA_MIME }
      : { body, name: `${name} plates.zip`, mime: 'application/zip' };
  } catch (error) {
    await rm(dir, { recursive: true, force: true });
    throw error;
  }
}

/** A file of plates that has arrived. */
export interface PlatesFile {
  readonly path: string;
  readonly fileName: string;
  readonly zip: boolean;
}

/**
 * Brings plates in from a file: a zip that was handed out here replaces the shot's plates, whole; an OpenRaster's layers and a
 * picture become plates with colours of their own.
 * @throws Problem `no-plates`, `too-many-plates`, `plate-locked`, `other-size`
 */
export async function importPlates(at: ShotAt, { path, fileName, zip }: PlatesFile): Promise<ShotState> {
  const document = await documentOf(at);
  const order = { document, path, fileName, plateName: nameOf(fileName) };
  if (!zip) {
    await inspectPicture(path, fileName);
    withRoom(document);
    return addPlates(at, { ...order, kind: 'picture' });
  }
  return inFolder(async (dir) => {
    const names = await unpackZip(path, fileName, dir, (name) => /\.(png|json|xml)$/i.test(name));
    if (names.includes('stack.xml')) return addPlates(at, { ...order, kind: 'open-raster', path: dir });
    if (names.includes('plates.json')) return replacePlates(at, { ...order, kind: 'folder', path: dir });
    throw new Problem(
      415,
      'no-plates',
      `${fileName} is a zip without plates.json or stack.xml. Bring in a zip of plates that was handed out here, an OpenRaster, or a picture.`,
    );
  });
}

const nameOf = (fileName: string): string =>
  basename(fileName)
    .replace(/\.[^.]+$/, '')
    .trim()
    .slice(0, 60) || 'Plate';

async function addPlates(at: ShotAt, order: BringBackOrder): Promise<ShotState> {
  const { plates } = await inThread('bringBack', order);
  return changeShot(
    at,
    `Bring in ${order.fileName}`,
    (_em, current) => {
      withRoom(current, plates.length);
      return Promise.resolve({ ...current, plates: [...current.plates, ...plates] });
    },
    { fits: (current) => current.source.mediaId === order.document.source.mediaId },
  );
}

async function replacePlates(at: ShotAt, order: BringBackOrder): Promise<ShotState> {
  const { plates, back }: BroughtBack = await inThread('bringBack', order);
  return changeShot(at, `Bring back ${plates.length} ${plates.length === 1 ? 'plate' : 'plates'}`, (_em, current) => {
    current.plates.forEach(requireUnlocked);
    withRoom({ ...current, plates: [] }, plates.length);
    const next: ShotDocument = { ...current, ...back, plates: [...plates] };
    return Promise.resolve(next);
  });
}
