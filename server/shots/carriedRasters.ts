import { existsSync } from 'node:fs';
import { readFile, rename, writeFile } from 'node:fs/promises';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { choiceSchema, type Choice } from '@/core/matte/choice';
import { narrowed, widened } from '@/core/raster/bits';
import { pictureOf, toEightBits, type DepthMap, type Mask, type Straight } from '@/core/raster/picture';
import type { Size } from '@/core/kind';
import { resizeDepth } from '@/core/raster/resizeDepth';
import { isCarriedName } from '@/core/shot/carriedNames';
import sharp from 'sharp';
import { cacheDir } from '../config';
import { Problem } from '../http/problem';
import { database } from '../db/orm';
import { forgetOldest, used } from '../media/cache';
import { readDepthFile } from '../media/depthFile';
import { readMatteFile } from '../media/matteFile';
import { readWholePicture } from '../media/readWholePicture';
import { readStoredPicture } from '../rasters/pictures';
import { loadRevision, readMap } from '../rasters/revisions';

// What is carried from keys to other frames of a film lies in files that can be made again, at the size of the small
// pictures. Wherever a document names a revision, it may name one of these.

/** What a carried frame has: depth all of them; a plate its matte too, what lies behind plates its colours. */
type Part = 'depth' | 'matte' | 'colours';
const PARTS: Readonly<Record<string, readonly Part[]>> = {
  carried: ['depth'],
  plate: ['matte', 'depth'],
  behind: ['depth'],
  filled: ['colours'],
};

const NAME = /^[a-z]+_[0-9a-f-]{36}_[0-9a-z_-]+_\d+$/;

/** True for the name of something carried. */
export const isCarried = (name: string): boolean => isCarriedName(name) && NAME.test(name);

const partsOf = (name: string): readonly Part[] => PARTS[name.slice(0, name.indexOf('_'))];

function pathOf(name: string, ending: Part | 'trust' | 'choice'): string {
  if (!isCarried(name)) throw Problem.notFound('What is carried to this frame');
  return join(cacheDir('carried'), `${name}.${ending}${ending === 'trust' || ending === 'choice' ? '' : '.png'}`);
}

/** True where all of it can be read. */
export const carriedIsThere = (name: string): boolean => partsOf(name).every((part) => existsSync(pathOf(name, part)));

/** Says of names, by what a listing of the folder holds, whether all of them can be read. */
export function carriedNamesIn(files: readonly string[]): (name: string) => boolean {
  const there = new Set(files);
  return (name) => partsOf(name).every((part) => there.has(`${name}.${part}.png`));
}

/** Share of a carried frame's pixels whose colours say that it is right. */
export async function carriedTrust(name: string): Promise<number | null> {
  const text = await readFile(pathOf(name, 'trust'), 'utf8').catch(() => undefined);
  return text === undefined ? null : Number(text);
}

/** The outlines that a plate was carried by; undefined where it was carried by its looks. */
export async function carriedChoice(name: string): Promise<Choice | undefined> {
  const text = await readFile(pathOf(name, 'choice'), 'utf8').catch(() => undefined);
  return text === undefined ? undefined : choiceSchema.parse(JSON.parse(text));
}

/** What is known of a carried frame beside its pixels. */
interface Carried {
  readonly trust: number;
  readonly choice?: Choice | undefined;
}

/** Keeps what is carried to a frame: a file is whole or not there. @param write writes each of its parts as PNG */
export async function keepCarried(
  name: string,
  write: Readonly<Partial<Record<Part, (path: string) => Promise<void>>>>,
  { trust, choice }: Carried,
): Promise<void> {
  await writeFile(pathOf(name, 'trust'), String(trust));
  if (choice) await writeFile(pathOf(name, 'choice'), JSON.stringify(choice));
  for (const part of partsOf(name)) {
    const path = join(cacheDir('carried'), `${randomUUID()}.png`);
    await write[part]!(path);
    await rename(path, pathOf(name, part));
  }
}

/** Forgets what was not used for longest, where all of it takes more room than the cache has. */
export const forgetCarried = (): Promise<string[]> => forgetOldest('carried');

/** A part's file, used just now. @throws Problem 404 where it is not there any more */
async function usedPath(name: string, part: Part): Promise<string> {
  const path = pathOf(name, part);
  if (!existsSync(path)) throw Problem.notFound('What is carried to this frame');
  await used(path);
  return path;
}

/** A depth map at full size: a stored revision, or one that is carried. @throws Problem 404 */
export async function depthMap(revision: string, size: Size): Promise<DepthMap> {
  if (isCarried(revision)) return loadCarried(revision, size);
  const em = await database();
  return readMap(em, await loadRevision(em, revision));
}

/** A carried depth at the size of its frame. @throws Problem 404 where it is not there any more */
export async function loadCarried(name: string, size: Size): Promise<DepthMap> {
  const path = await usedPath(name, 'depth');
  return resizeDepth(await readDepthFile(path, 'the carried depth', { whiteIsNear: true, mend: false }), size);
}

/** A matte at full size, 8 bits: a stored revision, or one that is carried. @throws Problem 404 */
export async function matteMap(revision: string, size: Size): Promise<Mask> {
  if (isCarried(revision)) return resizedMatte(await readMatteFile(await usedPath(revision, 'matte'), 'a matte'), size);
  return storedMatte(revision);
}

/** A stored matte as 8 bits. */
export async function storedMatte(revision: string): Promise<Mask> {
  const em = await database();
  const { width, height, data } = await readMap(em, await loadRevision(em, revision));
  return { width, height, data: narrowed(data) };
}

/** A matte at another size. */
export async function resizedMatte(matte: Mask, { width, height }: Size): Promise<Mask> {
  if (matte.width === width && matte.height === height) return matte;
  const raw = { width: matte.width, height: matte.height, channels: 1 } as const;
  const data = await sharp(matte.data, { raw, limitInputPixels: false })
    .resize(width, height, { fit: 'fill', kernel: 'cubic' })
    .toColourspace('b-w')
    .raw()
    .toBuffer();
  return { width, height, data: new Uint8Array(data.buffer, data.byteOffset, data.length) };
}

/** What was filled in at full size: a stored picture, or one that is carried. @throws Problem 404 */
export async function filledPicture(revision: string, size: Size & { readonly bits: 8 | 16 }): Promise<Straight> {
  if (!isCarried(revision)) return readStoredPicture(await database(), revision, size.bits);
  const picture = toEightBits(await readWholePicture(await usedPath(revision, 'colours'), 'what lies behind'));
  const { width, height } = size;
  const raw = { width: picture.width, height: picture.height, channels: 4 } as const;
  const same = picture.width === width && picture.height === height;
  const data = same
    ? picture.data
    : await sharp(picture.data, { raw, limitInputPixels: false })
        .resize(width, height, { fit: 'fill', kernel: 'cubic' })
        .raw()
        .toBuffer();
  const eight = new Uint8Array(data.buffer, data.byteOffset, data.length);
  return pictureOf({ width, height }, size.bits === 16 ? widened(eight) : eight, 'straight');
}
