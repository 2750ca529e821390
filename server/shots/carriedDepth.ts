import { existsSync } from 'node:fs';
import { readFile, rename, writeFile } from 'node:fs/promises';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import type { DepthMap } from '@/core/raster/picture';
import type { Size } from '@/core/kind';
import { resizeDepth } from '@/core/raster/resizeDepth';
import { cacheDir } from '../config';
import { Problem } from '../http/problem';
import { database } from '../db/orm';
import { forgetOldest, used } from '../media/cache';
import { readDepthFile } from '../media/depthFile';
import { loadRevision, readMap } from '../rasters/revisions';

const NAME = /^carried_[0-9a-f-]{36}_(none|\d+-[0-9a-f-]{36})_(none|\d+-[0-9a-f-]{36})_\d+$/;

/** True for the name of a depth map that is carried from keys: it lies in a file that can be made again. */
export const isCarried = (name: string): boolean => NAME.test(name);

export function carriedPath(name: string): string {
  if (!isCarried(name)) throw Problem.notFound('This depth map');
  return join(cacheDir('carried'), `${name}.png`);
}

export const carriedIsThere = (name: string): boolean => existsSync(carriedPath(name));

const trustPath = (name: string): string => carriedPath(name).replace(/png$/, 'trust');

/** Share of a carried frame's pixels whose colours say that its depth is right. */
export async function carriedTrust(name: string): Promise<number | null> {
  const text = await readFile(trustPath(name), 'utf8').catch(() => undefined);
  return text === undefined ? null : Number(text);
}

/** Keeps a carried depth: a file is whole or not there. */
export async function keepCarried(name: string, write: (path: string) => Promise<void>, trust: number): Promise<void> {
  const part = join(cacheDir('carried'), `${randomUUID()}.png`);
  await write(part);
  await writeFile(trustPath(name), String(trust));
  await rename(part, carriedPath(name));
}

/** Forgets what was not used for longest, where all of it takes more room than the cache has. */
export const forgetCarried = (): Promise<string[]> => forgetOldest('carried');

/** A depth map at full size: a stored revision, or one that is carried. @throws Problem 404 */
export async function depthMap(revision: string, size: Size): Promise<DepthMap> {
  if (isCarried(revision)) return loadCarried(revision, size);
  const em = await database();
  return readMap(em, await loadRevision(em, revision));
}

/** A carried depth at the size of its frame. @throws Problem 404 where it is not there any more */
export async function loadCarried(name: string, size: Size): Promise<DepthMap> {
  const path = carriedPath(name);
  if (!existsSync(path)) throw Problem.notFound('This depth map');
  await used(path);
  const map = await readDepthFile(path, 'the carried depth', { whiteIsNear: true, mend: false });
  return resizeDepth(map, size);
}
