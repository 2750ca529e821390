import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { rename, unlink } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Picture, Picture8 } from '@/core/raster/picture';
import { cacheDir, LIMITS } from '../config';
import { Problem } from '../http/problem';
import { fetchToFile } from './store';

/**
 * Decodes a picture file to upright sRGB RGBA of 8 or 16 bits in a plain raster file that rows can be read from at random.
 * Streams: libvips holds a few rows at a time.
 */
export async function decodeToRaster(from: string, to: string, bits: 8 | 16, fileName: string): Promise<void> {
  const part = `${to}.${randomUUID()}.v`;
  try {
    await sharp(from, { limitInputPixels: LIMITS.pixels, failOn: 'error', sequentialRead: true })
      .autoOrient()
      .toColourspace(bits === 16 ? 'rgb16' : 'srgb')
      .ensureAlpha()
      .toFile(part);
    await rename(part, to);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOSPC' || /No space left/.test(String(error)))
      throw new Problem(
        507,
        'disk-full',
        `There is no room on the server’s disk to unpack ${fileName}. Free some space and try again.`,
      );
    throw new Problem(
      422,
      'cut-off',
      `${fileName} cannot be read to its end: it is cut off or damaged. Export or copy it again.`,
    );
  } finally {
    await unlink(part).catch(() => undefined);
  }
}

const running = new Map<string, Promise<string>>();

/** Path of a source's raster file; made from the stored file where the cache has lost it. */
export function sourceRaster(source: { mediaId: string; bits: 8 | 16; fileName: string }): Promise<string> {
  const path = join(cacheDir('source'), `${source.mediaId}.v`);
  if (existsSync(path)) return Promise.resolve(path);
  let made = running.get(path);
  if (!made) {
    made = (async () => {
      const file = `${path}.source`;
      try {
        await fetchToFile(source.mediaId, file);
        await decodeToRaster(file, path, source.bits, source.fileName);
        return path;
      } finally {
        await unlink(file).catch(() => undefined);
        running.delete(path);
      }
    })();
    running.set(path, made);
  }
  return made;
}

/** All pixels of a raster file. Without its colour space named, sharp would hand 16 bits over as 8. */
export async function readRaster(path: string, bits: 8 | 16): Promise<Picture> {
  const { data, info } = await sharp(path, { limitInputPixels: false })
    .toColourspace(bits === 16 ? 'rgb16' : 'srgb')
    .raw({ depth: bits === 16 ? 'ushort' : 'uchar' })
    .toBuffer({ resolveWithObject: true });
  const bytes = { width: info.width, height: info.height };
  return bits === 16
    ? { ...bytes, data: new Uint16Array(data.buffer, data.byteOffset, data.length / 2) }
    : { ...bytes, data: new Uint8Array(data.buffer, data.byteOffset, data.length) };
}

/** All pixels of a raster file as 8 bits a channel. */
export async function readRasterEightBits(path: string): Promise<Picture8> {
  const { data, info } = await sharp(path, { limitInputPixels: false })
    .toColourspace('srgb')
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: new Uint8Array(data.buffer, data.byteOffset, data.length) };
}

/** A rectangle of a raster file, reduced to width × height, as an 8-bit PNG for the page. */
export async function rasterWindow(
  path: string,
  rect: { left: number; top: number; right: number; bottom: number },
  width: number,
  height: number,
): Promise<Buffer> {
  return sharp(path, { limitInputPixels: false })
    .extract({ left: rect.left, top: rect.top, width: rect.right - rect.left, height: rect.bottom - rect.top })
    .resize(width, height, { fit: 'fill', kernel: 'cubic' })
    .toColourspace('srgb')
    .png({ compressionLevel: 1 })
    .toBuffer();
}
