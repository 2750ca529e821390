import { basename, extname } from 'node:path';
import sharp from 'sharp';
import { CoreError } from '@/core/error';
import type { Straight } from '@/core/raster/picture';
import { pixelsOf } from '@/server/media/decode';
import { inspectPicture, type PictureHeader } from '@/server/media/inspect';
import { Problem } from '@/server/http/problem';
import type { PictureFormat } from '@/core/recipes';

/** Reads a picture as upright sRGB RGBA in its own number of bits, checked by its header first. */
export async function readPicture(path: string): Promise<{ picture: Straight; header: PictureHeader }> {
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
  return { header, picture: pixelsOf(data, info, header.bits) };
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
