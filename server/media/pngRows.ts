import { once } from 'node:events';
import { createWriteStream } from 'node:fs';
import { crc32 } from './crc32';
import { createDeflate } from 'node:zlib';
import type { RowWriter } from './rowWriter';

/**
 * Writes an 8-bit RGB PNG row by row: a sheet is far larger than should be held in memory.
 * Source: W3C, Portable Network Graphics (third edition); pHYs in px per metre.
 */
export function pngRows(path: string, width: number, height: number, dpi: number): RowWriter {
  const file = createWriteStream(path);
  const failed = once(file, 'error').then(([e]) => {
    throw e as Error;
  });
  failed.catch(() => undefined);
  const chunk = (type: string, body: Buffer): Buffer => {
    const out = Buffer.alloc(body.length + 12);
    out.writeUInt32BE(body.length, 0);
    out.write(type, 4, 'latin1');
    body.copy(out, 8);
    out.writeUInt32BE(crc32(out.subarray(4, 8 + body.length)), 8 + body.length);
    return out;
  };
  const header = Buffer.alloc(13);
  header.writeUInt32BE(width, 0);
  header.writeUInt32BE(height, 4);
  header.set([8, 2, 0, 0, 0], 8);
  const resolution = Buffer.alloc(9);
  resolution.writeUInt32BE(Math.round(dpi / 0.0254), 0);
  resolution.writeUInt32BE(Math.round(dpi / 0.0254), 4);
  resolution[8] = 1;
  file.write(
    Buffer.concat([
      Buffer.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10]),
      chunk('IHDR', header),
      chunk('sRGB', Buffer.from([0])),
      chunk('pHYs', resolution),
    ]),
  );
  const deflate = createDeflate({ level: 3 });
  const drained = (async () => {
    for await (const piece of deflate) if (!file.write(chunk('IDAT', piece as Buffer))) await once(file, 'drain');
  })();
  drained.catch(() => undefined);
  return {
    async write(row) {
      // Filter 0 (none): neighbouring columns of a sheet come from different views, so no predictor helps.
      const line = Buffer.alloc(row.length + 1);
      line.set(row, 1);
      if (!deflate.write(line)) await Promise.race([once(deflate, 'drain'), failed]);
    },
    async end() {
      deflate.end();
      await Promise.race([drained, failed]);
      file.end(chunk('IEND', Buffer.alloc(0)));
      await Promise.race([once(file, 'finish'), failed]);
    },
  };
}
