import { once } from 'node:events';
import { createWriteStream } from 'node:fs';
import { CoreError } from '@/core/error';
import type { RowWriter } from './rowWriter';

const STRIP_BYTES = 1 << 20;

/**
 * Writes an uncompressed 8-bit RGB TIFF strip by strip, with its resolution: what a print shop's software takes
 * without a question.
 * Source: TIFF 6.0, baseline RGB. @throws CoreError `too-large` beyond the 4 GB that the format can address
 */
export function tiffRows(path: string, width: number, height: number, dpi: number): RowWriter {
  const rowBytes = width * 3;
  if (rowBytes * height > 4_294_000_000)
    throw new CoreError(
      'too-large',
      `The sheet would be ${((rowBytes * height) / 1e9).toFixed(1)} GB; TIFF ends at 4.2 GB. Choose PNG, a smaller sheet or a lower resolution.`,
    );
  const rowsPerStrip = Math.max(1, Math.floor(STRIP_BYTES / rowBytes));
  const strips = Math.ceil(height / rowsPerStrip);
  const entries = 12;
  const directory = 8;
  const after = directory + 2 + entries * 12 + 4;
  const bits = after;
  const xres = bits + 6;
  const yres = xres + 8;
  const offsets = yres + 8;
  const counts = offsets + strips * 4;
  const pixels = counts + strips * 4;
  const head = Buffer.alloc(pixels);
  head.write('II*\0', 0, 'latin1');
  head.writeUInt32LE(directory, 4);
  head.writeUInt16LE(entries, directory);
  let at = directory + 2;
  const entry = (tag: number, type: 3 | 4 | 5, count: number, value: number): void => {
    head.writeUInt16LE(tag, at);
    head.writeUInt16LE(type, at + 2);
    head.writeUInt32LE(count, at + 4);
    if (type === 3 && count === 1) head.writeUInt16LE(value, at + 8);
    else head.writeUInt32LE(value, at + 8);
    at += 12;
  };
  const stripBytes = (n: number): number => Math.min(rowsPerStrip, height - n * rowsPerStrip) * rowBytes;
  entry(256, 4, 1, width);
  entry(257, 4, 1, height);
  entry(258, 3, 3, bits);
  entry(259, 3, 1, 1);
  entry(262, 3, 1, 2);
  entry(273, 4, strips, strips === 1 ? pixels : offsets);
  entry(277, 3, 1, 3);
  entry(278, 4, 1, rowsPerStrip);
  entry(279, 4, strips, strips === 1 ? stripBytes(0) : counts);
  entry(282, 5, 1, xres);
  entry(283, 5, 1, yres);
  entry(296, 3, 1, 2);
  for (let c = 0; c < 3; c++) head.writeUInt16LE(8, bits + c * 2);
  for (const place of [xres, yres]) {
    head.writeUInt32LE(Math.round(dpi * 1000), place);
    head.writeUInt32LE(1000, place + 4);
  }
  for (let n = 0, place = pixels; n < strips; n++) {
    head.writeUInt32LE(place, offsets + n * 4);
    head.writeUInt32LE(stripBytes(n), counts + n * 4);
    place += stripBytes(n);
  }
  const file = createWriteStream(path, { highWaterMark: STRIP_BYTES * 2 });
  const failed = once(file, 'error').then(([e]) => {
    throw e as Error;
  });
  failed.catch(() => undefined);
  file.write(head);
  let strip = Buffer.alloc(rowsPerStrip * rowBytes);
  let filled = 0;
  const flush = async (): Promise<void> => {
    if (filled === 0) return;
    const full = strip.subarray(0, filled);
    strip = Buffer.alloc(rowsPerStrip * rowBytes);
    filled = 0;
    if (!file.write(full)) await Promise.race([once(file, 'drain'), failed]);
  };
  return {
    async write(row) {
      strip.set(row, filled);
      filled += row.length;
      if (filled === strip.length) await flush();
    },
    async end() {
      await flush();
      file.end();
      await Promise.race([once(file, 'finish'), failed]);
    },
  };
}
