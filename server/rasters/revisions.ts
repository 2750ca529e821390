import { randomUUID } from 'node:crypto';
import type { EntityManager } from '@mikro-orm/postgresql';
import { LRUCache } from 'lru-cache';
import type { DepthWindow } from '@/core/depth/window';
import { cropPlane } from '@/core/raster/crop';
import type { Rect } from '@/core/raster/geometry';
import type { DepthMap } from '@/core/raster/picture';
import { query } from '../db/query';
import { Problem } from '../http/problem';
import { bytesOf, HASH, loadTiles, nameOf, storeTiles, TILE } from './tiles';

/** One revision of a raster: its tiles' names in row-major order. It never changes. */
export interface Revision {
  readonly id: string;
  readonly width: number;
  readonly height: number;
  readonly hashes: Buffer;
  /** How many revisions it stands away from one whose list of tiles is stored whole. */
  readonly since: number;
}

/** Every so many revisions the list of tiles is stored whole; the others store what differs from the one before. */
const WHOLE_EVERY = 32;
/** Bytes of an entry of what differs: which tile, and its name. */
const ENTRY = 4 + HASH;

/** Lists of tiles by revision: they are asked for again at every stroke. Bytes. */
const LISTS_BYTES = 32 << 20;
const lists = new LRUCache<string, Revision>({
  maxSize: LISTS_BYTES,
  sizeCalculation: ({ hashes }) => hashes.length + 200,
});

interface Row {
  readonly width: number;
  readonly height: number;
  readonly hashes: Buffer | null;
  readonly changed: Buffer | null;
  readonly since: number;
}

/** @throws Problem 404 */
export async function loadRevision(em: EntityManager, id: string): Promise<Revision> {
  const known = lists.get(id);
  if (known) return known;
  const rows = await query<Row>(
    em,
    `with recursive way as (
       select base_id, width, height, hashes, changed, since, 0 as n from raster_revision where id = $1
       union all
       select r.base_id, r.width, r.height, r.hashes, r.changed, r.since, way.n + 1
         from raster_revision r join way on r.id = way.base_id where way.hashes is null)
     select width, height, hashes, changed, since from way order by n desc`,
    [id],
  );
  const [whole, ...changes] = rows;
  if (!whole?.hashes) throw Problem.notFound('This depth map');
  const hashes = Buffer.from(whole.hashes);
  for (const { changed } of changes) applyChanged(hashes, changed!);
  const { width, height, since } = rows[rows.length - 1];
  const revision: Revision = { id, width, height, hashes, since };
  lists.set(id, revision);
  return revision;
}

function applyChanged(hashes: Buffer, changed: Buffer): void {
  for (let at = 0; at < changed.length; at += ENTRY)
    changed.copy(hashes, changed.readUInt32LE(at) * HASH, at + 4, at + ENTRY);
}

/** What differs between two lists of the same tiles. */
function changesOf(was: Buffer, now: Buffer): Buffer {
  const parts: Buffer[] = [];
  for (let at = 0; at < now.length; at += HASH) {
    if (now.compare(was, at, at + HASH, at, at + HASH) === 0) continue;
    const entry = Buffer.alloc(ENTRY);
    entry.writeUInt32LE(at / HASH);
    now.copy(entry, 4, at, at + HASH);
    parts.push(entry);
  }
  return Buffer.concat(parts);
}

/** @param base the revision that it was made of */
async function saveRevision(
  em: EntityManager,
  { width, height }: { readonly width: number; readonly height: number },
  hashes: Buffer,
  base?: Revision,
): Promise<Revision> {
  const id = randomUUID();
  const apart = base && base.since + 1 < WHOLE_EVERY ? changesOf(base.hashes, hashes) : undefined;
  const small = apart !== undefined && apart.length < hashes.length;
  const since = base && small ? base.since + 1 : 0;
  await query(
    em,
    `insert into raster_revision (id, width, height, hashes, base_id, changed, since, created_at)
       values ($1, $2, $3, $4, $5, $6, $7, now())`,
    [id, width, height, small ? null : hashes, small ? base!.id : null, small ? apart : null, since],
  );
  const revision: Revision = { id, width, height, hashes, since };
  lists.set(id, revision);
  return revision;
}

/** Stores a whole raster; equal tiles are stored once. */
export async function storeMap(em: EntityManager, { width, height, data }: DepthMap): Promise<Revision> {
  const across = Math.ceil(width / TILE);
  const hashes = Buffer.alloc(across * Math.ceil(height / TILE) * HASH);
  for (let top = 0; top < height; top += TILE) {
    const rows = Math.min(TILE, height - top);
    const part = data.subarray(top * width, (top + rows) * width);
    await storeWindow(em, { hashes, across }, { left: 0, top, scale: 1, width, height: rows, data: part });
  }
  return saveRevision(em, { width, height }, hashes);
}

/** A raster that has one value everywhere: one tile (and those at the border). */
export async function storeFlat(
  em: EntityManager,
  { width, height }: { readonly width: number; readonly height: number },
  value: number,
): Promise<Revision> {
  const across = Math.ceil(width / TILE);
  const down = Math.ceil(height / TILE);
  const hashes = Buffer.alloc(across * down * HASH);
  const made = new Map<string, Buffer>();
  for (let n = 0; n < across * down; n++) {
    const w = Math.min(TILE, width - (n % across) * TILE);
    const h = Math.min(TILE, height - Math.floor(n / across) * TILE);
    let hash = made.get(`${w}x${h}`);
    if (!hash) {
      [hash] = await storeTiles(em, [new Uint16Array(w * h).fill(value)]);
      made.set(`${w}x${h}`, hash);
    }
    hash.copy(hashes, n * HASH);
  }
  return saveRevision(em, { width, height }, hashes);
}

/** Cuts a window whose left and top lie on the tile grid into tiles, stores them and writes their names into a list. */
async function storeWindow(
  em: EntityManager,
  list: { readonly hashes: Buffer; readonly across: number },
  window: DepthWindow,
): Promise<void> {
  const tiles: Uint16Array[] = [];
  const places: number[] = [];
  const held = new Set<string>();
  for (let y = 0; y < window.height; y += TILE) {
    for (let x = 0; x < window.width; x += TILE) {
      const w = Math.min(TILE, window.width - x);
      const h = Math.min(TILE, window.height - y);
      const tile = new Uint16Array(w * h);
      for (let r = 0; r < h; r++) {
        const from = (y + r) * window.width + x;
        tile.set(window.data.subarray(from, from + w), r * w);
      }
      const place = (((window.top + y) / TILE) * list.across + (window.left + x) / TILE) * HASH;
      tiles.push(tile);
      places.push(place);
      held.add(nameOf(list.hashes.subarray(place, place + HASH)));
    }
  }
  (await storeTiles(em, tiles, held)).forEach((hash, n) => hash.copy(list.hashes, places[n]));
}

/** So many tiles are loaded at once. */
const TILES_AT_ONCE = 32;

/** A rectangle of a revision at full size. */
export async function readWindow(em: EntityManager, revision: Revision, rect: Rect): Promise<DepthWindow> {
  const { width, height, hashes } = revision;
  const across = Math.ceil(width / TILE);
  const w = rect.right - rect.left;
  const h = rect.bottom - rect.top;
  const data = new Uint16Array(w * h);
  const columns = Math.ceil(rect.right / TILE) - Math.floor(rect.left / TILE);
  const band = Math.max(1, Math.floor(TILES_AT_ONCE / columns)) * TILE;
  // Band by band: a few rows of tiles are loaded in one statement, a large raster is never held packed and unpacked at once.
  for (let top = Math.floor(rect.top / TILE) * TILE; top < rect.bottom; top += band) {
    const places: { readonly hash: Buffer; readonly tx: number; readonly ty: number }[] = [];
    for (let ty = top / TILE; ty * TILE < Math.min(rect.bottom, top + band); ty++)
      for (let tx = Math.floor(rect.left / TILE); tx * TILE < rect.right; tx++)
        places.push({ tx, ty, hash: hashes.subarray((ty * across + tx) * HASH, (ty * across + tx + 1) * HASH) });
    const tiles = await loadTiles(
      em,
      places.map((t) => t.hash),
    );
    for (const { tx, ty, hash } of places) {
      const tile = tiles.get(nameOf(hash))!;
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

/** The whole raster of a revision. */
export async function readMap(em: EntityManager, revision: Revision): Promise<DepthMap> {
  const { width, height } = revision;
  const window = await readWindow(em, revision, { left: 0, top: 0, right: width, bottom: height });
  return { width, height, data: window.data };
}

/** A rectangle grown to whole tiles, within a raster. */
export function tilesUnder(rect: Rect, { width, height }: { readonly width: number; readonly height: number }): Rect {
  return {
    left: Math.floor(rect.left / TILE) * TILE,
    top: Math.floor(rect.top / TILE) * TILE,
    right: Math.min(width, Math.ceil(rect.right / TILE) * TILE),
    bottom: Math.min(height, Math.ceil(rect.bottom / TILE) * TILE),
  };
}

/** A revision with one rectangle taken from a whole raster; only the tiles under it are stored anew. */
export async function replaceRect(em: EntityManager, revision: Revision, map: DepthMap, rect: Rect): Promise<Revision> {
  const around = tilesUnder(rect, revision);
  return replaceWindows(em, revision, [{ left: around.left, top: around.top, scale: 1, ...cropPlane(map, around) }]);
}

/** A revision with windows on the tile grid put in. */
export async function replaceWindows(
  em: EntityManager,
  revision: Revision,
  windows: Iterable<DepthWindow> | AsyncIterable<DepthWindow>,
): Promise<Revision> {
  const hashes = Buffer.from(revision.hashes);
  const across = Math.ceil(revision.width / TILE);
  for await (const window of windows) await storeWindow(em, { hashes, across }, window);
  return saveRevision(em, revision, hashes, revision);
}

/**
 * A revision whose tiles under a rectangle are changed, each for itself.
 * @param around on the tile grid
 * @param change works on a copy of a tile, in place; false where it leaves it as it is
 */
export async function changeTiles(
  em: EntityManager,
  revision: Revision,
  around: Rect,
  change: (tile: DepthWindow) => boolean,
): Promise<Revision> {
  const { width, height } = revision;
  const hashes = Buffer.from(revision.hashes);
  const across = Math.ceil(width / TILE);
  const places: Omit<DepthWindow, 'data'>[] = [];
  for (let top = around.top; top < around.bottom; top += TILE)
    for (let left = around.left; left < around.right; left += TILE)
      places.push({ left, top, scale: 1, width: Math.min(TILE, width - left), height: Math.min(TILE, height - top) });
  const listed = ({ left, top }: Omit<DepthWindow, 'data'>): Buffer => {
    const at = ((top / TILE) * across + left / TILE) * HASH;
    return hashes.subarray(at, at + HASH);
  };
  for (let n = 0; n < places.length; n += TILES_AT_ONCE) {
    const part = places.slice(n, n + TILES_AT_ONCE);
    const before = await loadTiles(em, part.map(listed));
    const changed: DepthWindow[] = [];
    for (const place of part) {
      const was = before.get(nameOf(listed(place)))!;
      const tile = { ...place, data: was.slice() };
      if (change(tile) && bytesOf(tile.data).compare(bytesOf(was)) !== 0) changed.push(tile);
    }
    const names = await storeTiles(
      em,
      changed.map(({ data }) => data),
    );
    names.forEach((hash, k) => hash.copy(listed(changed[k])));
  }
  return saveRevision(em, revision, hashes, revision);
}

/** True where a revision has one value everywhere. */
export async function isUniform(em: EntityManager, id: string): Promise<boolean> {
  const { hashes } = await loadRevision(em, id);
  const names = new Map<string, Buffer>();
  for (let at = 0; at < hashes.length; at += HASH) {
    const hash = hashes.subarray(at, at + HASH);
    names.set(nameOf(hash), hash);
  }
  // Inner tiles, and those at the right, at the bottom and in the corner: more kinds are no even raster.
  if (names.size > 4) return false;
  const tiles = await loadTiles(em, [...names.values()]);
  const [first] = [...tiles.values()];
  return [...tiles.values()].every((tile) => tile.every((value) => value === first[0]));
}
