import { randomUUID } from 'node:crypto';
import { rename, unlink } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Size } from '@/core/kind';
import type { Rect } from '@/core/raster/geometry';
import { premultiply } from '@/core/raster/alpha';
import { halvingsFor, HALVINGS } from '@/core/raster/halvings';
import { pictureOf, type Straight, type Straight8 } from '@/core/raster/picture';
import { cacheDir, LIMITS } from '../config';
import { Problem } from '../http/problem';
import { forgetOldest } from './cache';
import { cachedFile } from './cachedFile';
import { storedFootage } from './footage/openFootage';
import { pixelsOf } from './pixelsOf';
import { fetchToFile } from './store';

/**
 * Decodes a picture file to upright sRGB RGBA of 8 or 16 bits in a plain raster file that rows can be read from at
 * random.
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

/** A stored picture that can be unpacked. */
export interface StoredPicture {
  readonly mediaId: string;
  readonly bits: 8 | 16;
  readonly fileName: string;
  /** Of footage: which of its frames, from 0. @default it is a picture */
  readonly moment?: number | undefined;
}

/** Where the raster file of a name lies, halved so often. */
function rasterPath(name: string, level = 0): string {
  return join(cacheDir('source'), level === 0 ? `${name}.v` : `${name}.half-${level}.v`);
}

/** What its raster files are called. */
const nameOf = ({ mediaId, moment }: StoredPicture): string =>
  moment === undefined ? mediaId : `${mediaId}.frame-${moment}`;

/** Decodes one frame of footage. */
async function frameToRaster(picture: StoredPicture, moment: number, path: string): Promise<void> {
  const footage = await storedFootage(picture);
  for await (const { width, height, data, bits } of footage.frames(moment, moment + 1)) {
    const part = `${path}.${randomUUID()}.v`;
    try {
      await sharp(data as Uint8Array, { raw: { width, height, channels: 4 }, limitInputPixels: false })
        .toColourspace(bits === 16 ? 'rgb16' : 'srgb')
        .toFile(part);
      await rename(part, path);
    } finally {
      await unlink(part).catch(() => undefined);
    }
  }
}

/** Path of a source's raster file; made from the stored file where the cache has lost it. */
export function sourceRaster(picture: StoredPicture): Promise<string> {
  const { mediaId, bits, fileName } = picture;
  const path = rasterPath(nameOf(picture));
  return cachedFile(path, 'source', async () => {
    if (picture.moment !== undefined) {
      await frameToRaster(picture, picture.moment, path);
      return;
    }
    const file = `${path}.source`;
    try {
      await fetchToFile(mediaId, file);
      await decodeToRaster(file, path, bits, fileName);
    } finally {
      await unlink(file).catch(() => undefined);
    }
  });
}

/** Path of the same, halved so often: so that a preview reads what it shows. Each is made of the one before. */
function halvedRaster(picture: StoredPicture, level: number): Promise<string> {
  if (level === 0) return sourceRaster(picture);
  const path = rasterPath(nameOf(picture), level);
  return cachedFile(path, 'source', async () => halve(await halvedRaster(picture, level - 1), path, picture.bits));
}

/** Writes a raster file of half the size. */
async function halve(from: string, to: string, bits: 8 | 16): Promise<void> {
  const { width, height } = await sharp(from, { limitInputPixels: false }).metadata();
  const part = `${to}.${randomUUID()}.v`;
  try {
    await sharp(from, { limitInputPixels: false, sequentialRead: true })
      .resize(Math.ceil(width / 2), Math.ceil(height / 2), { fit: 'fill', kernel: 'cubic' })
      .toColourspace(bits === 16 ? 'rgb16' : 'srgb')
      .toFile(part);
    await rename(part, to);
  } finally {
    await unlink(part).catch(() => undefined);
  }
}

/** A picture that is being brought in, unpacked under a name of its own. */
export interface IncomingRaster {
  /** Gives it the name of what is stored, once all of it is there. */
  takeName(mediaId: string): Promise<void>;
  /** Removes what has not been named, and what the cache has no room for. */
  end(): Promise<void>;
}

/**
 * Unpacks a file to prove it whole. A large picture is halved while its caller goes on; failing that, the halved copies
 * are made when they are asked for.
 * @throws Problem what decodeToRaster throws
 */
export async function unpackIncoming(
  path: string,
  { width, height, bits }: Size & { readonly bits: 8 | 16 },
  fileName: string,
): Promise<IncomingRaster> {
  const name = `incoming-${randomUUID()}`;
  await decodeToRaster(path, rasterPath(name), bits, fileName);
  const made = [0];
  const halveAll = async (): Promise<void> => {
    for (let level = 1; level <= HALVINGS; level++) {
      await halve(rasterPath(name, level - 1), rasterPath(name, level), bits);
      made.push(level);
    }
  };
  const halving = width * height < LARGE ? undefined : halveAll().catch(() => undefined);
  return {
    async takeName(mediaId) {
      await halving;
      for (const level of made.splice(0)) await rename(rasterPath(name, level), rasterPath(mediaId, level));
    },
    async end() {
      await halving;
      await Promise.all(made.map((level) => unlink(rasterPath(name, level)).catch(() => undefined)));
      // What is stored is stored, whatever becomes of the cache.
      await forgetOldest('source').catch(() => []);
    },
  };
}

/** Pictures of so many px are worth halving ahead. */
const LARGE = 6_000_000;

/** All pixels of a raster file. Without its colour space named, sharp would hand 16 bits over as 8. */
export async function readRaster(path: string, bits: 8 | 16): Promise<Straight> {
  const { data, info } = await sharp(path, { limitInputPixels: false })
    .toColourspace(bits === 16 ? 'rgb16' : 'srgb')
    .raw({ depth: bits === 16 ? 'ushort' : 'uchar' })
    .toBuffer({ resolveWithObject: true });
  return pixelsOf(data, info, bits);
}

/** All pixels of a raster file as 8 bits a channel. */
export async function readRasterEightBits(path: string): Promise<Straight8> {
  const { data, info } = await sharp(path, { limitInputPixels: false })
    .toColourspace('srgb')
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  return pictureOf(info, new Uint8Array(data.buffer, data.byteOffset, data.length), 'straight');
}

/** A rectangle of a raster file as RGBA of 8 bits a channel, premultiplied: as the page holds it. */
export async function rasterColours(path: string, { left, top, right, bottom }: Rect): Promise<Uint8Array> {
  const data = await sharp(path, { limitInputPixels: false })
    .extract({ left, top, width: right - left, height: bottom - top })
    .toColourspace('srgb')
    .ensureAlpha()
    .raw({ depth: 'uchar' })
    .toBuffer();
  const colours = new Uint8Array(data.buffer, data.byteOffset, data.length);
  const size = { width: right - left, height: bottom - top };
  return premultiply(pictureOf(size, colours, 'straight')).data as Uint8Array;
}

/** A rectangle of a stored picture, reduced to width x height, as an 8-bit PNG for the page. */
export async function rasterWindow(picture: StoredPicture & Size, window: Rect & Size): Promise<Buffer> {
  const level = halvingsFor(window, picture, window);
  const step = 1 << level;
  const left = window.left / step;
  const top = window.top / step;
  const width = Math.ceil(window.right / step) - left;
  const height = Math.ceil(window.bottom / step) - top;
  return sharp(await halvedRaster(picture, level), { limitInputPixels: false })
    .extract({ left, top, width, height })
    .resize(window.width, window.height, { fit: 'fill', kernel: 'cubic' })
    .toColourspace('srgb')
    .png({ compressionLevel: 1 })
    .toBuffer();
}
