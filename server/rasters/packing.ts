import { promisify } from 'node:util';
import { isMainThread } from 'node:worker_threads';
import {
  brotliCompress,
  brotliCompressSync,
  brotliDecompress,
  brotliDecompressSync,
  constants,
  inflateRaw,
  inflateRawSync,
} from 'node:zlib';

/** How values are packed: 0 raw deflate (RFC 1951), as they were until 2026-11; 1 Brotli (RFC 7932). */
export type Coding = 0 | 1;

/** How `pack` packs. */
export const CODING: Coding = 1;

// In a thread of its own nobody waits for the packing, and handing a tile to another takes as long as packing it.
const compress = isMainThread ? promisify(brotliCompress) : brotliCompressSync;
const decompress = isMainThread ? promisify(brotliDecompress) : brotliDecompressSync;
const inflate = isMainThread ? promisify(inflateRaw) : inflateRawSync;

/** Bytes more than are wanted, so that nothing asks for another piece. */
const SPARE = 64;
/** A tile of one channel comes out in one piece, bytes. */
const PIECE = (1 << 17) + SPARE;

/** Quality 1 takes a third of the time of deflate's level 1 for the same size; a window of 128 KB holds a tile. */
const QUICK = { [constants.BROTLI_PARAM_QUALITY]: 1, [constants.BROTLI_PARAM_LGWIN]: 17 };

/** Packs 16-bit values. */
export async function pack({ buffer, byteOffset, byteLength }: Uint16Array): Promise<Buffer> {
  return compress(Buffer.from(buffer, byteOffset, byteLength), {
    chunkSize: Math.max(1024, byteLength >> 3),
    params: { ...QUICK, [constants.BROTLI_PARAM_SIZE_HINT]: byteLength },
  });
}

/** The values that were packed. */
export async function unpack(data: Buffer, coding: Coding): Promise<Uint16Array> {
  const bytes = await (coding === 0 ? inflate : decompress)(data, { chunkSize: PIECE });
  const { buffer, byteOffset, length } = bytes;
  if (buffer.byteLength <= length + SPARE) return new Uint16Array(buffer, byteOffset, length >> 1);
  // A small tile is copied out: kept as a view it would keep all of a large buffer alive, which no cache counts.
  return new Uint16Array(buffer.slice(byteOffset, byteOffset + length));
}
