import { basename, extname } from 'node:path';
import sharp from 'sharp';
import { CoreError } from '@/core/error';
import { narrowed } from '@/core/raster/bits';
import { sixteenBits, type Picture, type Picture8 } from '@/core/raster/picture';
import { inspectPicture, type PictureHeader } from '@/server/media/inspect';
import { Problem } from '@/server/http/problem';
import type { PictureFormat } from '@/server/media/writePicture';

/** Reads a picture as upright sRGB RGBA in its own number of bits, checked by its header first. */
export async function readPicture(path: string): Promise<{ picture: Picture; header: PictureHeader }> {
  const header = await inspectPicture(path, basename(path));
  const deep = header.bits === 16;
  const { data, info } = await sharp(path, { failOn: 'error' })
    .autoOrient()
    .toColourspace(deep ? 'rgb16' : 'srgb')
    .ensureAlpha()
    .raw({ depth: deep ? 'ushort' : 'uchar' })
    .toBuffer({ resolveWithObject: true })
    .catch(() => {
      throw new Problem(422, 'cut-off', `${basename(path)} cannot be read to its end: it is cut off or damaged.`);
    });
  const size = { width: info.width, height: info.height };
  return {
    header,
    picture: deep
      ? { ...size, data: new Uint16Array(data.buffer, data.byteOffset, data.length / 2) }
      : { ...size, data: new Uint8Array(data.buffer, data.byteOffset, data.length) },
  };
}

export function eightBits(picture: Picture): Picture8 {
  return sixteenBits(picture.data)
    ? { width: picture.width, height: picture.height, data: narrowed(picture.data) }
    : (picture as Picture8);
}

/** The format that a file's name asks for. */
export function formatOf(path: string, deep: boolean): PictureFormat {
  switch (extname(path).toLowerCase()) {
    case '.png':
      return deep ? 'png16' : 'png';
    case '.tif':
    case '.tiff':
      return 'tiff';
    case '.jpg':
    case '.jpeg':
      return 'jpeg';
    default:
      throw new CoreError('unknown-format', `${path}: the file's name must end in .png, .tif or .jpg.`);
  }
}
