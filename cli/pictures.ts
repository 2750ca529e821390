import { basename, extname } from 'node:path';
import { CoreError } from '@/core/error';
import type { Straight } from '@/core/raster/picture';
import { inspectPicture, type PictureHeader } from '@/server/media/inspect';
import { readWholePicture } from '@/server/media/readWholePicture';
import type { PictureFormat } from '@/core/recipes';

/** Reads a picture as upright sRGB RGBA in its own number of bits, checked by its header first. */
export async function readPicture(path: string): Promise<{ picture: Straight; header: PictureHeader }> {
  const header = await inspectPicture(path, basename(path));
  return { header, picture: await readWholePicture(path, basename(path)) };
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
