import sharp from 'sharp';
import type { Size } from '@/core/kind';
import { widened } from '@/core/raster/bits';
import { cropPicture, cropPlane } from '@/core/raster/crop';
import type { Rect } from '@/core/raster/geometry';
import { reducePlane } from '@/core/raster/resizePlane';
import { resizeDepth } from '@/core/raster/resizeDepth';
import { toEightBits } from '@/core/raster/picture';
import { filledPicture, loadCarried, matteMap } from '../shots/carriedRasters';
import { task } from './task';

interface Carried {
  readonly name: string;
  /** Of its frame. */
  readonly size: Size;
  readonly window: Rect & Size;
}

/**
 * A window of a carried depth map or matte as 16 bits, reduced: to enlarge one to 4K takes some 200 ms, in which the
 * server would not answer.
 */
export const carriedWindow = task<Carried & { readonly what: 'depth' | 'matte' }, { readonly data: Uint16Array }>(
  async ({ name, size, window, what }) => {
    const { width, height } = window;
    if (what === 'depth')
      return { data: resizeDepth(cropPlane(await loadCarried(name, size), window), { width, height }).data };
    const matte = cropPlane(await matteMap(name, size), window);
    return { data: reducePlane({ ...matte, data: widened(matte.data) }, { width, height }) };
  },
);

/** A window of carried colours, as PNG with straight alpha. */
export const carriedColours = task<Carried, { readonly png: Uint8Array }>(async ({ name, size, window }) => {
  const { data, ...part } = cropPicture(toEightBits(await filledPicture(name, { ...size, bits: 8 })), window);
  const png = await sharp(data, { raw: { width: part.width, height: part.height, channels: 4 } })
    .resize(window.width, window.height, { fit: 'fill', kernel: 'cubic' })
    .png({ compressionLevel: 1 })
    .toBuffer();
  return { png: new Uint8Array(png) };
});
