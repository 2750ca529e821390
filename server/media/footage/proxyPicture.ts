import sharp from 'sharp';
import { pictureOf, type Picture8 } from '@/core/raster/picture';
import type { StoredFootage } from './openFootage';
import { proxyOf } from './proxies';

/** A frame as its small picture shows it. @throws Problem `not-yet` while it is not made */
export async function proxyPicture(source: StoredFootage, frame: number): Promise<Picture8> {
  const { data, info } = await sharp(await proxyOf(source, frame))
    .toColourspace('srgb')
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return pictureOf(info, new Uint8Array(data.buffer, data.byteOffset, data.length), 'straight');
}
