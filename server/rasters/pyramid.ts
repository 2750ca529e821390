import type { EntityManager } from '@mikro-orm/postgresql';
import { LRUCache } from 'lru-cache';
import { resizeDepth } from '@/core/raster/resizeDepth';
import { halveDepth } from '@/core/raster/halveDepth';
import type { Rect } from '@/core/raster/geometry';
import { halvePicture, halvePlane } from '@/core/raster/halve';
import { HALVINGS, halvingsFor } from '@/core/raster/halvings';
import { reducePlane } from '@/core/raster/resizePlane';
import { query, rowPlaces } from '../db/query';
import { CODING, pack, unpack, type Coding } from './packing';
import { readWindow, type Revision } from './revisions';
import { HASH, loadTiles, nameOf, TILE } from './tiles';
import { pictureOf, type DepthMap } from '@/core/raster/picture';

// Smaller copies of tiles, so that a preview reads what it shows. A tile is halved again and again by itself: 256 has
// no remainder.
// They are made when they are first asked for, and stored.

/**
 * What a raster's values are: that decides how they are reduced. Coverage is averaged, depth between two things is
 * neither.
 */
export type Values = 'depth' | 'matte' | 'colours';

const LEVEL_BYTES = 32 << 20;
const known = new LRUCache<string, Uint16Array>({
  maxSize: LEVEL_BYTES,
  sizeCalculation: (tile) => Math.max(1, tile.byteLength),
});
const AT_ONCE = 256;

interface Sized {
  readonly width: number;
  readonly height: number;
  readonly data: Uint16Array;
}

const halve: Record<Values, (tile: Sized) => Sized> = {
  depth: halveDepth,
  matte: halvePlane,
  colours: ({ width, height, data }) => {
    const half = halvePicture(pictureOf({ width: width / 4, height }, data, 'straight'));
    return { width: half.width * 4, height: half.height, data: half.data };
  },
};

/** Tiles of one level by name. */
async function loadLevel(
  em: EntityManager,
  tiles: ReadonlyMap<string, { readonly hash: Buffer; readonly width: number; readonly height: number }>,
  values: Values,
  level: number,
): Promise<Map<string, Uint16Array>> {
  const found = new Map<string, Uint16Array>();
  const missing: string[] = [];
  for (const name of tiles.keys()) {
    const tile = known.get(`${values} ${level} ${name}`);
    if (tile) found.set(name, tile);
    else missing.push(name);
  }
  for (let n = 0; n < missing.length; n += AT_ONCE) {
    const part = missing.slice(n, n + AT_ONCE);
    const rows = await query<{ hash: Buffer; data: Buffer; coding: Coding }>(
      em,
      'select hash, data, coding from tile_level where kind = $1 and level = $2 and hash = any($3::bytea[])',
      [values, level, part.map((name) => tiles.get(name)!.hash)],
    );
    for (const { hash, data, coding } of rows) found.set(nameOf(hash), await unpack(data, coding));
  }
  const unmade = missing.filter((name) => !found.has(name));
  for (let n = 0; n < unmade.length; n += 64)
    await makeLevels(em, unmade.slice(n, n + 64), { tiles, values, level, found });
  for (const name of missing) known.set(`${values} ${level} ${name}`, found.get(name));
  return found;
}

interface Making {
  readonly tiles: ReadonlyMap<string, { readonly hash: Buffer; readonly width: number; readonly height: number }>;
  readonly values: Values;
  readonly level: number;
  readonly found: Map<string, Uint16Array>;
}

/** Makes all levels of some tiles and stores them. */
async function makeLevels(
  em: EntityManager,
  names: readonly string[],
  { tiles, values, level, found }: Making,
): Promise<void> {
  const whole = await loadTiles(
    em,
    names.map((name) => tiles.get(name)!.hash),
  );
  const rows: unknown[] = [];
  for (const name of names) {
    const { hash, width, height } = tiles.get(name)!;
    let reduced: Sized = { width, height, data: whole.get(name)! };
    for (let k = 1; k <= HALVINGS; k++) {
      reduced = halve[values](reduced);
      if (k === level) found.set(name, reduced.data);
      rows.push(hash, values, k, await pack(reduced.data), CODING);
    }
  }
  await query(
    em,
    `insert into tile_level (hash, kind, level, data, coding) values ${rowPlaces(rows.length / 5, 5)} on conflict do nothing`,
    rows,
  );
}

/** A rectangle of a revision, halved `level` times. Its left and top lie on that grid. */
async function readLevel(
  em: EntityManager,
  revision: Revision,
  rect: Rect,
  { values, level }: { readonly values: Values; readonly level: number },
): Promise<Sized> {
  if (level === 0) return readWindow(em, revision, rect);
  const { width, height, hashes } = revision;
  const across = Math.ceil(width / TILE);
  const step = 1 << level;
  const channels = values === 'colours' ? 4 : 1;
  const reduce = (px: number): number =>
    channels === 1 ? Math.ceil(px / step) : Math.ceil(px / channels / step) * channels;
  const left = rect.left / step;
  const top = rect.top / step;
  const w = reduce(rect.right) - left;
  const h = Math.ceil(rect.bottom / step) - top;
  const data = new Uint16Array(w * h);
  const side = TILE / step;
  const tiles = new Map<string, { hash: Buffer; width: number; height: number }>();
  const places: { name: string; x: number; y: number; width: number }[] = [];
  for (let ty = Math.floor(rect.top / TILE); ty * TILE < rect.bottom; ty++) {
    for (let tx = Math.floor(rect.left / TILE); tx * TILE < rect.right; tx++) {
      const hash = hashes.subarray((ty * across + tx) * HASH, (ty * across + tx + 1) * HASH);
      const tw = Math.min(TILE, width - tx * TILE);
      const th = Math.min(TILE, height - ty * TILE);
      const name = nameOf(hash);
      tiles.set(name, { hash, width: tw, height: th });
      places.push({ name, x: tx * side, y: ty * side, width: reduce(tw) });
    }
  }
  const found = await loadLevel(em, tiles, values, level);
  for (const { name, x, y, width: tw } of places) {
    const tile = found.get(name)!;
    const rows = tile.length / tw;
    const x0 = Math.max(left, x);
    const x1 = Math.min(left + w, x + tw);
    for (let row = Math.max(top, y); row < Math.min(top + h, y + rows); row++) {
      const from = (row - y) * tw + x0 - x;
      data.set(tile.subarray(from, from + x1 - x0), (row - top) * w + x0 - left);
    }
  }
  return { width: w, height: h, data };
}

/** A rectangle of a revision that is a matte, reduced to width x height: coverage is averaged, where depth is not. */
export async function readReducedMatte(
  em: EntityManager,
  revision: Revision,
  rect: Rect & { readonly width: number; readonly height: number },
): Promise<Uint16Array> {
  const level = halvingsFor(rect, revision, rect);
  const read = await readLevel(em, revision, rect, { values: 'matte', level });
  return reducePlane(read, rect, spanOf(rect, level));
}

/** A rectangle of a revision that is a depth map, reduced to width x height. */
export async function readReduced(
  em: EntityManager,
  revision: Revision,
  rect: Rect & { readonly width: number; readonly height: number },
): Promise<DepthMap> {
  const level = halvingsFor(rect, revision, rect);
  const read = await readLevel(em, revision, rect, { values: 'depth', level });
  return resizeDepth(read, rect, spanOf(rect, level));
}

/** A rectangle of a stored picture (its revision is four times as wide), as small as still holds what is wanted. */
export async function readReducedColours(
  em: EntityManager,
  revision: Revision,
  rect: Rect & { readonly width: number; readonly height: number },
): Promise<{ readonly width: number; readonly height: number; readonly data: Uint16Array; readonly level: number }> {
  const level = halvingsFor(rect, { width: revision.width / 4, height: revision.height }, rect);
  const wide = { left: rect.left * 4, top: rect.top, right: rect.right * 4, bottom: rect.bottom };
  const read = await readLevel(em, revision, wide, { values: 'colours', level });
  return { width: read.width / 4, height: read.height, data: read.data, level };
}

/** How much of a reduced window the rectangle really spans: at a border its last px may stand for less. */
const spanOf = ({ left, top, right, bottom }: Rect, level: number): { width: number; height: number } => ({
  width: (right - left) / (1 << level),
  height: (bottom - top) / (1 << level),
});
