import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { open, readFile, rename, rm, writeFile, type FileHandle } from 'node:fs/promises';
import { join } from 'node:path';
import PQueue from 'p-queue';
import sharp from 'sharp';
import { z } from 'zod';
import { cutsIn } from '@/core/time/cutsIn';
import { cacheDir } from '../../config';
import { Problem } from '../../http/problem';
import { forgetOldest, used } from '../cache';
import { storedFootage, type StoredFootage } from './openFootage';

/** Proxies are at most so wide, px. */
const WIDE = 960;
/** Cuts are looked for on so many fields. */
const GRID = { width: 32, height: 18 } as const;

const indexSchema = z.object({
  /** Where each picture of the file ends in the pack, bytes. */
  ends: z.array(z.number().int().positive()),
  /** Which picture each frame shows. */
  shows: z.array(z.number().int().min(0)),
  cuts: z.array(z.number().int().positive()),
  /** The first frame of which the file holds no picture any more, though it announces it; null: none. */
  damagedFrom: z.number().int().nullable(),
});
type Index = z.infer<typeof indexSchema>;

/** How far the proxies of a footage are. */
export interface ProxyState {
  readonly ready: number;
  readonly frames: number;
  /** Known once all are ready. */
  readonly cuts: readonly number[];
  readonly damagedFrom: number | null;
  /** Why they could not be made; null while they can. */
  readonly problem: string | null;
}

interface Making {
  readonly ends: number[];
  readonly shows: readonly number[];
  readonly pack: string;
  problem: string | null;
  /** When something stopped it that has nothing to do with the file; null: nothing has. */
  failedAt: number | null;
}

/** After so long it is tried again, ms. */
const AGAIN_MS = 10_000;

const packPath = (mediaId: string): string => join(cacheDir('proxy'), `${mediaId}.jpegs`);
const indexPath = (mediaId: string): string => join(cacheDir('proxy'), `${mediaId}.json`);

// Next.js bundles each route on its own: what runs is kept where all of them find it.
const kept = globalThis as typeof globalThis & { corkProxies?: { making: Map<string, Making>; queue: PQueue } };
const shared = (): NonNullable<typeof kept.corkProxies> =>
  (kept.corkProxies ??= { making: new Map(), queue: new PQueue({ concurrency: 1 }) });

/** How far they are; they are begun where nobody has. */
export async function proxyState(footage: StoredFootage): Promise<ProxyState> {
  const index = await readIndex(footage.mediaId);
  if (index)
    return {
      ready: index.shows.length,
      frames: index.shows.length,
      cuts: index.cuts,
      damagedFrom: index.damagedFrom,
      problem: null,
    };
  const making = await begun(footage);
  const { ends, shows, problem } = making;
  // The last one counts when the whole stands in its place: cuts and damage are known only then.
  const ready = Math.min(framesReady(ends.length, shows), shows.length - 1);
  return { ready, frames: shows.length, cuts: [], damagedFrom: null, problem };
}

/** Frames whose picture is among the first so many. */
const framesReady = (pictures: number, shows: readonly number[]): number => {
  const missing = shows.findIndex((picture) => picture >= pictures);
  return missing < 0 ? shows.length : missing;
};

/** A frame as a small JPEG. @throws Problem `not-yet` while it is not made */
export async function proxyOf(footage: StoredFootage, frame: number): Promise<Buffer> {
  const index = await readIndex(footage.mediaId);
  const { ends, shows } = index ?? (await begun(footage));
  const picture = shows[frame];
  if (picture === undefined) throw Problem.notFound('This frame');
  // A damaged end: the last whole picture stands.
  const at = index ? Math.min(picture, ends.length - 1) : picture;
  if (at >= ends.length)
    throw new Problem(425, 'not-yet', `Frame ${frame + 1} is not ready yet: ${ends.length} of ${shows.length} are.`);
  const from = at > 0 ? ends[at - 1] : 0;
  const whole = packPath(footage.mediaId);
  const pack = index ? whole : (shared().making.get(footage.mediaId)?.pack ?? whole);
  // It may have been moved to its place since; the bytes are the same there.
  const file = await open(pack, 'r').catch(() => open(whole, 'r'));
  try {
    const jpeg = Buffer.alloc(ends[at] - from);
    await file.read(jpeg, 0, jpeg.length, from);
    return jpeg;
  } finally {
    await file.close();
  }
}

const indexes = new Map<string, Index>();

async function readIndex(mediaId: string): Promise<Index | undefined> {
  if (!existsSync(packPath(mediaId))) indexes.delete(mediaId);
  const known = indexes.get(mediaId);
  if (known) return known;
  const text = await readFile(indexPath(mediaId), 'utf8').catch(() => undefined);
  if (text === undefined || !existsSync(packPath(mediaId))) return undefined;
  await Promise.all([used(packPath(mediaId)), used(indexPath(mediaId))]);
  const index = indexSchema.safeParse(JSON.parse(text));
  if (index.success) indexes.set(mediaId, index.data);
  return index.data;
}

/** Begins to make them, unless somebody has. */
async function begun(footage: StoredFootage): Promise<Making> {
  const { making, queue } = shared();
  const known = making.get(footage.mediaId);
  if (known && !(known.failedAt !== null && Date.now() - known.failedAt > AGAIN_MS)) return known;
  const { info } = await storedFootage(footage);
  const raced = making.get(footage.mediaId);
  if (raced && raced !== known) return raced;
  const pack = `${packPath(footage.mediaId)}.${randomUUID()}.part`;
  const mine: Making = { ends: [], shows: info.shows, pack, problem: null, failedAt: null };
  making.set(footage.mediaId, mine);
  void queue.add(async () => {
    try {
      await make(footage, mine);
      making.delete(footage.mediaId);
    } catch (error) {
      mine.problem =
        error instanceof Problem
          ? error.message
          : `${footage.fileName} could not be prepared. It is tried again in a moment.`;
      if (!(error instanceof Problem)) {
        console.error(error);
        mine.failedAt = Date.now();
      }
      await rm(pack, { force: true });
    }
  });
  return mine;
}

async function make(footage: StoredFootage, mine: Making): Promise<void> {
  const file = await storedFootage(footage);
  const { width, shows } = file.info;
  const wanted = shows[shows.length - 1] + 1;
  const pack = await open(mine.pack, 'w');
  let signatures: Buffer[] = [];
  try {
    signatures = await fill(pack, file.proxies(0, Math.min(WIDE, width)), wanted, mine);
  } finally {
    await pack.close();
  }
  if (mine.ends.length === 0)
    throw new Problem(422, 'damaged', `${footage.fileName} announces ${wanted} pictures, but none can be read.`);
  const last = mine.ends.length - 1;
  const index: Index = {
    ends: mine.ends,
    shows: [...shows],
    cuts: cutsIn(shows.map((picture) => signatures[Math.min(last, picture)])),
    damagedFrom: mine.ends.length < wanted ? framesReady(mine.ends.length, shows) : null,
  };
  await writeFile(indexPath(footage.mediaId), JSON.stringify(index));
  await rename(mine.pack, packPath(footage.mediaId));
  await forgetOldest('proxy');
}

/** Writes JPEGs one behind the other. @returns what each looks like in short */
async function fill(
  pack: FileHandle,
  jpegs: AsyncGenerator<Buffer>,
  wanted: number,
  { ends }: Making,
): Promise<Buffer[]> {
  const signatures: Buffer[] = [];
  let end = 0;
  for await (const jpeg of jpegs) {
    await pack.write(jpeg);
    end += jpeg.length;
    signatures.push(
      await sharp(jpeg)
        .resize({ ...GRID, fit: 'fill' })
        .removeAlpha()
        .toColourspace('srgb')
        .raw()
        .toBuffer(),
    );
    ends.push(end);
    if (ends.length === wanted) break;
  }
  return signatures;
}
