import { createHash } from 'node:crypto';
import type { EntityManager } from '@mikro-orm/postgresql';
import { LRUCache } from 'lru-cache';
import { query, rowPlaces } from '../db/query';
import { CODING, pack, unpack, type Coding } from './packing';

// Tiles of 256 x 256 values of 16 bits (smaller at a raster's right and lower border), by a hash of what they hold:
// equal ones are
// stored once, and none ever changes.

/** Side of a tile, px. */
export const TILE = 256;
/** Bytes of a tile's name. */
export const HASH = 32;

/** Unpacked tiles by name, the least used dropped first, bytes. */
const UNPACKED_BYTES = 192 << 20;
const unpacked = new LRUCache<string, Uint16Array>({
  maxSize: UNPACKED_BYTES,
  sizeCalculation: (tile) => Math.max(1, tile.byteLength),
});

const nameOf = (hash: Buffer): string => hash.toString('base64');

const bytesOf = ({ buffer, byteOffset, byteLength }: Uint16Array): Buffer =>
  Buffer.from(buffer, byteOffset, byteLength);

/**
 * The name of a tile: half of its BLAKE2b (RFC 7693), which takes half as long as SHA-256. Tiles stored before keep
 * the SHA-256 they have.
 */
export const hashOf = (tile: Uint16Array): Buffer =>
  createHash('blake2b512').update(bytesOf(tile)).digest().subarray(0, HASH);

/** So many tiles travel in one statement. */
const AT_ONCE = 64;

/** From so many tiles on it is worth asking which are stored already before they are packed. */
const FEW = 16;

async function storedAlready(
  em: EntityManager,
  fresh: ReadonlyMap<string, number>,
  hashes: readonly Buffer[],
): Promise<string[]> {
  const asked = [...fresh.values()].map((n) => hashes[n]);
  const rows = await query<{ hash: Buffer }>(em, 'select hash from tile where hash = any($1::bytea[])', [asked]);
  return rows.map(({ hash }) => nameOf(hash));
}

/**
 * Stores tiles that are not stored yet; returns their names.
 * @param tiles not changed by anybody afterwards
 * @param held names (base64) of tiles that are known to be stored
 */
export async function storeTiles(
  em: EntityManager,
  tiles: readonly Uint16Array[],
  held: ReadonlySet<string> = new Set(),
): Promise<Buffer[]> {
  const hashes = tiles.map(hashOf);
  const fresh = new Map<string, number>();
  hashes.forEach((hash, n) => {
    const name = nameOf(hash);
    if (held.has(name)) return;
    fresh.set(name, n);
    // The next stroke begins on what this one left.
    unpacked.set(name, tiles[n]);
  });
  if (fresh.size > FEW) for (const name of await storedAlready(em, fresh, hashes)) fresh.delete(name);
  const wanted = [...fresh.values()];
  for (let n = 0; n < wanted.length; n += AT_ONCE) {
    const part = wanted.slice(n, n + AT_ONCE);
    const packed = await Promise.all(part.map((k) => pack(tiles[k])));
    await query(
      em,
      `insert into tile (hash, data, coding) values ${rowPlaces(part.length, 3)} on conflict do nothing`,
      part.flatMap((k, m) => [hashes[k], packed[m], CODING]),
    );
  }
  return hashes;
}

/** Tiles by their names (base64). @throws Error where one is missing from the database */
export async function loadTiles(em: EntityManager, hashes: readonly Buffer[]): Promise<Map<string, Uint16Array>> {
  const found = new Map<string, Uint16Array>();
  const missing = new Map<string, Buffer>();
  for (const hash of hashes) {
    const name = nameOf(hash);
    const tile = unpacked.get(name);
    if (tile) found.set(name, tile);
    else missing.set(name, hash);
  }
  const wanted = [...missing.values()];
  for (let n = 0; n < wanted.length; n += AT_ONCE) {
    const part = wanted.slice(n, n + AT_ONCE);
    const rows = await query<{ hash: Buffer; data: Buffer; coding: Coding }>(
      em,
      'select hash, data, coding from tile where hash = any($1::bytea[])',
      [part],
    );
    if (rows.length !== part.length) throw new Error('A tile of a raster is missing from the database.');
    const tiles = await Promise.all(rows.map(({ data, coding }) => unpack(data, coding)));
    rows.forEach(({ hash }, k) => {
      found.set(nameOf(hash), tiles[k]);
      unpacked.set(nameOf(hash), tiles[k]);
    });
  }
  return found;
}

export { bytesOf, nameOf };
