import type { Mask } from '@/core/raster/picture';
import { toEightBits } from '@/core/raster/picture';
import { readWholePicture } from './readWholePicture';

/**
 * A matte of a grey picture, white in; of a colour one its red; what is transparent is out. @throws Problem what is
 * wrong with the file
 */
export async function readMatteFile(path: string, fileName: string): Promise<Mask> {
  const { width, height, data } = toEightBits(await readWholePicture(path, fileName));
  const matte = new Uint8Array(width * height);
  for (let i = 0; i < matte.length; i++) matte[i] = Math.round((data[4 * i] * data[4 * i + 3]) / 255);
  return { width, height, data: matte };
}
