import sharp from 'sharp';
import type { Straight } from '@/core/raster/picture';
import { Problem } from '../http/problem';
import { pixelsOf } from './pixelsOf';
import { inspectPicture } from './inspect';

/**
 * Reads a picture as upright sRGB RGBA in its own number of bits, checked by its header first. @throws Problem what
 * is wrong with it
 */
export async function readWholePicture(path: string, fileName: string): Promise<Straight> {
  const header = await inspectPicture(path, fileName);
  const deep = header.bits === 16;
  const { data, info } = await sharp(path, { failOn: 'error' })
    .autoOrient()
    .toColourspace(deep ? 'rgb16' : 'srgb')
    .ensureAlpha()
    .raw({ depth: deep ? 'ushort' : 'uchar' })
    .toBuffer({ resolveWithObject: true })
    .catch(() => {
      throw new Problem(422, 'cut-off', `${fileName} cannot be read to its end: it is cut off or damaged.`);
    });
  return pixelsOf(data, info, header.bits);
}
