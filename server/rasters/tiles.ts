import { applyDepthEdit, editBounds, type DepthEdit } from '@/core/depth/edits';
import type { Rect } from '@/core/raster/geometry';
import { createHash, randomUUID } from 'node:crypto';
import { promisify } from 'node:util';
import { deflateRaw, inflateRaw } from 'node:zlib';
import type { EntityManager } from '@mikro-orm/postgresql';
import type { DepthWindow } from '@/core/depth/window';
import { cropPlane } from '@/core/raster/crop';
import type { DepthMap } from '@/core/raster/picture';
import { resizeDepth } from '@/core/depth/resizeDepth';
import { reducePlane } from '@/core/raster/resizePlane';
import { Problem } from '../http/problem';

/** Side of a tile, px. */
export const TILE = 256;
const HASH = 32;
const deflate = promisify(deflateRaw);
const inflate = promisify(inflateRaw);

/** One revision of a depth raster: its tiles by SHA-256 in row-major order. It never changes. */
export interface Revision {
  readonly id: string;
  readonly width: number;
  readonly height: number;
  readonly hashes: Buffer;
}

export async function loadRevision(em: EntityManager, id: string): Promise<Revision> {
  const rows = await em.execute<{ width: number; height: number; hashes: Buffer }[]>(
    'select width, height, hashes from raster_revision where id = ?',
    [id],
  );
  if (!rows[0]) throw Problem.notFound('This depth map');
  return { id, ...rows[0] };
}

async function saveRevision(em: EntityManager, width: number, height: number, hashes: Buffer): Promise<Revision> {
  const id = randomUUID();
  await em.execute('insert into raster_revision (id, width, height, hashes, created_at) values (?, ?, ?, ?, now())', [
    id,
    width,
    height,
    hashes,
  ]);
  return { id, width, height, hashes };
}

/** Stores a whole map; equal tiles are stored once. */
export async function storeMap(em: EntityManager, map: DepthMap): Promise<Revision> {
  const across = Math.ceil(map.width / TILE);
  const down = Math.ceil(map.height / TILE);
  const hashes = Buffer.alloc(across * down * HASH);
  for (let ty = 0; ty < down; ty++) {
    await storeTiles(em, hashes, across, {
      left: 0,
      top: ty * TILE,
      scale: 1,
      width: map.width,
      height: Math.min(TILE, map.height - ty * TILE),
      data: map.data.subarray(ty * TILE * map.width, Math.min(map.height, (ty + 1) * TILE) * map.width),
    });
  }
  return saveRevision(em, map.width, map.height, hashes);
}

/** A map that has one depth everywhere: one tile (and those at the border). */
export async function storeFlat(em: EntityManager, width: number, height: number, value: number): Promise<Revision> {
  const across = Math.ceil(width / TILE);
  const down = Math.ceil(height / TILE);
  const hashes = Buffer.alloc(across * down * HASH);
  const made = new Map<string, Buffer>();
  for (let n = 0; n < across * down; n++) {
    const w = Math.min(TILE, width - (n % across) * TILE);
    const h = Math.min(TILE, height - Math.floor(n / across) * TILE);
    let hash = made.get(`${w}x${h}`);
    if (!hash) made.set(`${w}x${h}`, (hash = await storeTile(em, new Uint16Array(w * h).fill(value))));
    hash.copy(hashes, n * HASH);
  }
  return saveRevision(em, width, height, hashes);
}

async function storeTile(em: EntityManager, tile: Uint16Array): Promise<Buffer> {
  const raw = Buffer.from(tile.buffer, tile.byteOffset, tile.byteLength);
  const hash = createHash('sha256').update(raw).digest();
  const known = await em.execute<unknown[]>('select 1 from tile where hash = ?', [hash]);
  if (known.length === 0)
    await em.execute('insert into tile (hash, data) values (?, ?) on conflict do nothing', [
      hash,
      await deflate(raw, { level: 1 }),
    ]);
  return hash;
}

/** Cuts a window whose left and top lie on the tile grid into tiles, stores them and writes their hashes. */
async function storeTiles(em: EntityManager, hashes: Buffer, across: number, window: DepthWindow): Promise<void> {
  for (let y = 0; y < window.height; y += TILE) {
    for (let x = 0; x < window.width; x += TILE) {
      const w = Math.min(TILE, window.width - x);
      const h = Math.min(TILE, window.height - y);
      const tile = new Uint16Array(w * h);
      for (let r = 0; r < h; r++)
        tile.set(window.data.subarray((y + r) * window.width + x, (y + r) * window.width + x + w), r * w);
      (await storeTile(em, tile)).copy(hashes, (((window.top + y) / TILE) * across + (window.left + x) / TILE) * HASH);
    }
  }
}

/** Unpacked tiles by hash, the least used dropped first. */
const unpacked = new Map<string, Uint16Array>();
const UNPACKED_TILES = 512;

async function loadTiles(em: EntityManager, hashes: readonly Buffer[]): Promise<Map<string, Uint16Array>> {
  const found = new Map<string, Uint16Array>();
  const missing: Buffer[] = [];
  for (const hash of hashes) {
    const key = hash.toString('base64');
    if (found.has(key)) continue;
    const tile = unpacked.get(key);
    found.set(key, tile ?? new Uint16Array());
    if (!tile) missing.push(hash);
    else {
      unpacked.delete(key);
      unpacked.set(key, tile);
    }
  }
  for (let n = 0; n < missing.length; n += 64) {
    const part = missing.slice(n, n + 64);
    const rows = await em.execute<{ hash: Buffer; data: Buffer }[]>(
      `select hash, data from tile where hash in (${part.map(() => '?').join(',')})`,
      part,
    );
    if (rows.length !== part.length) throw new Error('A tile of a depth map is missing from the database.');
    for (const row of rows) {
      const raw = await inflate(row.data);
      const tile = new Uint16Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length));
      const key = row.hash.toString('base64');
      found.set(key, tile);
      unpacked.set(key, tile);
      if (unpacked.size > UNPACKED_TILES) unpacked.delete(unpacked.keys().next().value as string);
    }
  }
  return found;
}

/** A rectangle of a revision at full size. */
export async function readWindow(em: EntityManager, revision: Revision, rect: Rect): Promise<DepthWindow> {
  const { width, height, hashes } = revision;
  const across = Math.ceil(width / TILE);
  const w = rect.right - rect.left;
  const h = rect.bottom - rect.top;
  const data = new Uint16Array(w * h);
  for (let ty = Math.floor(rect.top / TILE); ty * TILE < rect.bottom; ty++) {
    const row: { hash: Buffer; tx: number }[] = [];
    for (let tx = Math.floor(rect.left / TILE); tx * TILE < rect.right; tx++)
      row.push({ tx, hash: hashes.subarray((ty * across + tx) * HASH, (ty * across + tx + 1) * HASH) });
    const tiles = await loadTiles(
      em,
      row.map((t) => t.hash),
    );
    for (const { tx, hash } of row) {
      const tile = tiles.get(hash.toString('base64'))!;
      const tw = Math.min(TILE, width - tx * TILE);
      const x0 = Math.max(rect.left, tx * TILE);
      const x1 = Math.min(rect.right, tx * TILE + tw);
      for (let y = Math.max(rect.top, ty * TILE); y < Math.min(rect.bottom, (ty + 1) * TILE, height); y++) {
        const from = (y - ty * TILE) * tw + (x0 - tx * TILE);
        data.set(tile.subarray(from, from + x1 - x0), (y - rect.top) * w + (x0 - rect.left));
      }
    }
  }
  return { left: rect.left, top: rect.top, scale: 1, width: w, height: h, data };
}

/** The whole map of a revision. */
export async function readMap(em: EntityManager, revision: Revision): Promise<DepthMap> {
  const { width, height } = revision;
  const window = await readWindow(em, revision, { left: 0, top: 0, right: width, bottom: height });
  return { width, height, data: window.data };
}

/** A rectangle of a revision that is a matte, reduced to width × height: coverage is averaged, where depth is not. */
export async function readReducedMatte(
  em: EntityManager,
  revision: Revision,
  rect: Rect,
  width: number,
  height: number,
): Promise<Uint16Array> {
  const window = await readWindow(em, revision, rect);
  return reducePlane(window.data, window.width, window.height, width, height);
}

/** A rectangle of a revision, reduced to width × height. */
export async function readReduced(
  em: EntityManager,
  revision: Revision,
  rect: Rect,
  width: number,
  height: number,
): Promise<DepthMap> {
  return resizeDepth(await readWindow(em, revision, rect), width, height);
}

/** A revision with one rectangle taken from a whole map; only the tiles under it are stored anew. */
export async function replaceRect(em: EntityManager, revision: Revision, map: DepthMap, rect: Rect): Promise<Revision> {
  const { width, height } = revision;
  const across = Math.ceil(width / TILE);
  const hashes = Buffer.from(revision.hashes);
  const left = Math.floor(rect.left / TILE) * TILE;
  const right = Math.min(width, Math.ceil(rect.right / TILE) * TILE);
  const top = Math.floor(rect.top / TILE) * TILE;
  const bottom = Math.min(height, Math.ceil(rect.bottom / TILE) * TILE);
  await storeTiles(em, hashes, across, { left, top, scale: 1, ...cropPlane(map, { left, top, right, bottom }) });
  return saveRevision(em, width, height, hashes);
}

/**
 * Applies an edit and stores the changed tiles as a new revision. Ramps and outlines work tile row by tile row, so that a
 * large map is never held whole; a stroke works on the tiles under it.
 * @throws Problem `missed` where the edit does not touch the map
 */
export async function applyEdit(em: EntityManager, revision: Revision, edit: DepthEdit): Promise<Revision> {
  const { width, height } = revision;
  const bounds = editBounds(edit, revision);
  if (!bounds) throw new Problem(422, 'missed', 'The stroke lies outside the picture, so nothing was changed.');
  const across = Math.ceil(width / TILE);
  const left = Math.floor(bounds.left / TILE) * TILE;
  const right = Math.min(width, Math.ceil(bounds.right / TILE) * TILE);
  const top = Math.floor(bounds.top / TILE) * TILE;
  const bottom = Math.min(height, Math.ceil(bounds.bottom / TILE) * TILE);
  const step = edit.kind === 'stroke' ? bottom - top : TILE;
  const hashes = Buffer.from(revision.hashes);
  for (let y = top; y < bottom; y += step) {
    const window = await readWindow(em, revision, { left, top: y, right, bottom: Math.min(bottom, y + step) });
    if (applyDepthEdit(window, edit)) await storeTiles(em, hashes, across, window);
  }
  return saveRevision(em, width, height, hashes);
}
