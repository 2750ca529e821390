import type { Size } from '@/core/kind';
import { pictureOf, type Straight } from '@/core/raster/picture';

/** What sharp has read as raw RGBA. */
export function pixelsOf(data: Buffer, size: Size, bits: 8 | 16): Straight {
  const values =
    bits === 16
      ? new Uint16Array(data.buffer, data.byteOffset, data.length / 2)
      : new Uint8Array(data.buffer, data.byteOffset, data.length);
  return pictureOf(size, values, 'straight');
}
