import sharp from 'sharp';
import { pictureOf, type DepthMap, type Premultiplied8 } from '@/core/raster/picture';

/** A picture file with 8 bits a channel. */
export async function readPicture(path: string): Promise<Premultiplied8> {
  const { data, info } = await sharp(path)
    .toColourspace('srgb')
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return pictureOf(info, new Uint8Array(data), 'premultiplied');
}

/** A grey file of 16 bits, values as they are stored. */
export async function readMap(path: string): Promise<DepthMap> {
  const { data, info } = await sharp(path)
    .toColourspace('grey16')
    .raw({ depth: 'ushort' })
    .toBuffer({ resolveWithObject: true });
  return {
    width: info.width,
    height: info.height,
    data: new Uint16Array(data.buffer, data.byteOffset, info.width * info.height),
  };
}
