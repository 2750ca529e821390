import { open } from 'node:fs/promises';
import { join } from 'node:path';
import { cacheDir } from '../../config';
import { Problem } from '../../http/problem';
import { cachedFile } from '../cachedFile';
import { fetchToFile } from '../store';
import { openAnimation } from './animationFile';
import type { FootageFile } from './footageFile';
import { openSequence } from './sequenceFile';
import { sniffFootage } from './sniffFootage';
import { openVideo } from './videoFile';

/** Opens a file of moving pictures by what its first bytes say. @throws Problem what is wrong with it */
export async function openFootageFile(path: string, fileName: string): Promise<FootageFile> {
  const file = await open(path);
  const head = Buffer.alloc(64);
  try {
    await file.read(head, 0, head.length, 0);
  } finally {
    await file.close();
  }
  if (head.toString('latin1', 0, 4) === 'PK\x03\x04') return openSequence(path, fileName);
  if (head.toString('latin1', 0, 4) === 'RIFF' && head.toString('latin1', 8, 12) === 'WEBP')
    return openAnimation(path, fileName);
  if (sniffFootage(head) || head[0] === 0x89) return openVideo(path, fileName);
  throw new Problem(
    415,
    'not-footage',
    `${fileName} is no moving picture that can be read here. MP4, MOV, WebM, MKV, AVI, GIF, animated PNG and WebP, ` +
      'and a zip of numbered pictures can be brought in.',
  );
}

/** Footage that is stored. */
export interface StoredFootage {
  readonly mediaId: string;
  readonly fileName: string;
}

/** Where a stored file lies on the disk. */
export const footagePath = (mediaId: string): string => join(cacheDir('source'), `${mediaId}.footage`);

const opened = new Map<string, { readonly path: string; readonly file: Promise<FootageFile> }>();
const MOST_OPEN = 16;

/** A stored file, opened once: fetched from the database where the disk has lost it. */
export async function storedFootage({ mediaId, fileName }: StoredFootage): Promise<FootageFile> {
  const path = await cachedFile(footagePath(mediaId), 'source', (to) => fetchToFile(mediaId, to));
  let known = opened.get(mediaId);
  if (!known) {
    known = { path, file: openFootageFile(path, fileName) };
    known.file.catch(() => opened.delete(mediaId));
    opened.set(mediaId, known);
    for (const oldest of [...opened.keys()].slice(0, Math.max(0, opened.size - MOST_OPEN))) opened.delete(oldest);
  }
  return known.file;
}
