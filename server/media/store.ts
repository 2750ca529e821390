import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { rename, stat, unlink } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { EntityManager } from '@mikro-orm/postgresql';
import { database } from '../db/orm';
import { query } from '../db/query';
import { Problem } from '../http/problem';

/** Bytes a chunk; media are streamed chunk by chunk and never held whole. */
const CHUNK = 1 << 20;

export interface MediaInfo {
  readonly id: string;
  readonly fileName: string;
  readonly mime: string;
  readonly size: number;
  readonly sha256: Buffer;
}

/** Stores a file in chunks within the caller's transaction. */
export async function storeFile(em: EntityManager, path: string, fileName: string, mime: string): Promise<MediaInfo> {
  const { size } = await stat(path);
  const id = randomUUID();
  const hash = createHash('sha256');
  await query(
    em,
    'insert into media (id, file_name, mime, size, sha256, created_at) values ($1, $2, $3, $4, $5, now())',
    [id, fileName, mime, size, Buffer.alloc(0)],
  );
  let n = 0;
  for await (const piece of createReadStream(path, { highWaterMark: CHUNK })) {
    hash.update(piece as Buffer);
    await query(em, 'insert into media_chunk (media_id, n, data) values ($1, $2, $3)', [id, n++, piece]);
  }
  const sha256 = hash.digest();
  await query(em, 'update media set sha256 = $1 where id = $2', [sha256, id]);
  return { id, fileName, mime, size, sha256 };
}

export async function mediaInfo(id: string): Promise<MediaInfo> {
  const em = await database();
  const rows = await query<{ id: string; file_name: string; mime: string; size: string; sha256: Buffer }>(
    em,
    'select id, file_name, mime, size, sha256 from media where id = $1',
    [id],
  );
  if (!rows[0]) throw Problem.notFound('This file');
  return { id, fileName: rows[0].file_name, mime: rows[0].mime, size: Number(rows[0].size), sha256: rows[0].sha256 };
}

/** The bytes [from, to) of a stored file as a stream, one chunk in memory at a time. */
export function readMedia(id: string, from: number, to: number): Readable {
  return Readable.from(pieces(id, from, to), { objectMode: false, highWaterMark: CHUNK });
}

async function* pieces(id: string, from: number, to: number): AsyncGenerator<Buffer> {
  const em = await database();
  for (let at = from; at < to;) {
    const n = Math.floor(at / CHUNK);
    const rows = await query<{ data: Buffer }>(em, 'select data from media_chunk where media_id = $1 and n = $2', [
      id,
      n,
    ]);
    if (!rows[0]) throw new Error(`Chunk ${n} of file ${id} is missing.`);
    const piece = rows[0].data.subarray(at - n * CHUNK, Math.min(rows[0].data.length, to - n * CHUNK));
    yield piece;
    at += piece.length;
  }
}

/** Writes a stored file to disk, whole or not at all. */
export async function fetchToFile(id: string, path: string): Promise<void> {
  const info = await mediaInfo(id);
  const part = `${path}.${randomUUID()}.part`;
  try {
    await pipeline(readMedia(id, 0, info.size), createWriteStream(part));
    await rename(part, path);
  } finally {
    await unlink(part).catch(() => undefined);
  }
}
