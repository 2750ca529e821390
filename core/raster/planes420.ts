import { CoreError } from '../error';
import { pictureOf, type Picture8, type Straight8 } from './picture';

/**
 * A frame as codecs hold it: luma of every px, then each colour difference of every 2 x 2 px, one plane behind the
 * other; even sides. FFmpeg calls it yuv420p.
 */
export interface Planes420 {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}

/** Bytes of a frame in planes. */
export const bytesOfPlanes = (width: number, height: number): number => (width * height * 3) / 2;

/**
 * A frame in planes as a picture of luma and colour differences (`ycbcr`), whole everywhere. Every px of a square gets
 * the square's colour, so that `planesOf` gives back the same bytes.
 * @param room bytes that are written over, where they are as many @default new ones
 */
export function pictureOfPlanes({ width, height, data }: Planes420, room?: Uint8Array): Straight8 {
  requireEven(width, height);
  const n = width * height * 4;
  const out = room?.length === n ? room : new Uint8Array(n);
  const words = new Uint32Array(out.buffer, out.byteOffset, width * height);
  const half = width / 2;
  let cb = width * height;
  let cr = cb + cb / 4;
  for (let y = 0; y < height; y += 2) {
    let upper = y * width;
    let lower = upper + width;
    for (let x = 0; x < half; x++, cb++, cr++, upper += 2, lower += 2) {
      // Little-endian, as every machine is that this runs on: luma first.
      const colour = 0xff000000 | (data[cr] << 16) | (data[cb] << 8);
      words[upper] = colour | data[upper];
      words[upper + 1] = colour | data[upper + 1];
      words[lower] = colour | data[lower];
      words[lower + 1] = colour | data[lower + 1];
    }
  }
  return pictureOf({ width, height }, out, 'straight');
}

/**
 * A picture of luma and colour differences in planes: the mean colour of each square.
 * @param room as for pictureOfPlanes
 * @throws CoreError `bad-size` where a side is odd
 */
export function planesOf({ width, height, data }: Picture8, room?: Uint8Array): Planes420 {
  requireEven(width, height);
  const n = bytesOfPlanes(width, height);
  const out = room?.length === n ? room : new Uint8Array(n);
  let cb = width * height;
  let cr = cb + cb / 4;
  for (let y = 0; y < height; y += 2) {
    let upper = y * width;
    let lower = upper + width;
    for (let x = 0; x < width; x += 2, cb++, cr++, upper += 2, lower += 2) {
      const a = upper * 4;
      const b = lower * 4;
      out[upper] = data[a];
      out[upper + 1] = data[a + 4];
      out[lower] = data[b];
      out[lower + 1] = data[b + 4];
      out[cb] = (data[a + 1] + data[a + 5] + data[b + 1] + data[b + 5] + 2) >> 2;
      out[cr] = (data[a + 2] + data[a + 6] + data[b + 2] + data[b + 6] + 2) >> 2;
    }
  }
  return { width, height, data: out };
}

function requireEven(width: number, height: number): void {
  if (width % 2 !== 0 || height % 2 !== 0)
    throw new CoreError(
      'bad-size',
      `A frame of ${width} × ${height} px has no whole squares of 2 × 2 px: give it even sides.`,
    );
}
