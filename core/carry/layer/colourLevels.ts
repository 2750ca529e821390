import type { Size } from '../../kind';
import { halfOf, type Plane } from '../../flow/plane';
import type { Rect } from '../../raster/geometry';
import type { Picture8 } from '../../raster/picture';

/** A part of a picture at a size: red, green and blue as planes. */
export interface ColourLevel {
  /** Where the part begins in the whole picture, px. */
  readonly left: number;
  readonly top: number;
  /** Px of the whole picture to one of these. */
  readonly factor: number;
  readonly planes: readonly Plane[];
}

/** A part of a picture at its own size, at half, at a quarter and so on. */
export function colourLevels({ width, data }: Picture8, rect: Rect, count: number): ColourLevel[] {
  const size = { width: rect.right - rect.left, height: rect.bottom - rect.top };
  const planes = [0, 1, 2].map((channel): Plane => {
    const plane = new Float32Array(size.width * size.height);
    for (let y = 0, o = 0; y < size.height; y++) {
      let i = 4 * ((rect.top + y) * width + rect.left) + channel;
      for (let x = 0; x < size.width; x++, i += 4, o++) plane[o] = data[i];
    }
    return { ...size, data: softened(plane, size) };
  });
  const levels: ColourLevel[] = [{ left: rect.left, top: rect.top, factor: 1, planes }];
  while (levels.length < count) {
    const finer = levels[levels.length - 1];
    levels.push({ ...finer, factor: 2 * finer.factor, planes: finer.planes.map(halfOf) });
  }
  return levels;
}

/** Where a place of the whole picture lies in a level (middles of pixels are whole numbers in both). */
export const inLevel = (at: number, from: number, factor: number): number => (at - from - (factor - 1) / 2) / factor;

/**
 * By 1, 2, 1 both ways: between the pixels of an edge that is sharper than that a bilinear sample bends, and what is
 * looked for would
 * be found at whole pixels only.
 */
function softened(plane: Float32Array, { width, height }: Size): Float32Array {
  const across = plane.slice();
  for (let i = 1; i < plane.length - 1; i++) {
    const x = i % width;
    if (x > 0 && x < width - 1) across[i] = (plane[i - 1] + 2 * plane[i] + plane[i + 1]) / 4;
  }
  const out = across.slice();
  for (let i = width; i < width * (height - 1); i++)
    out[i] = (across[i - width] + 2 * across[i] + across[i + width]) / 4;
  return out;
}
