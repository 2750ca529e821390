import { CoreError } from '../error';
import { distanceTo } from '../raster/distance';
import type { Mask } from '../raster/picture';

/** A trimap's values: 0 out, 255 in, this between them: unsure, to be solved. */
export const UNSURE = 128;

/**
 * The trimap of a matte's edge: unsure are the pixels no farther than half of `widthPx` from the edge, and those that are
 * half-covered already.
 * @throws CoreError `out-of-range` unless the width lies between 1 and 1000 px
 */
export function trimapOf(matte: Mask, widthPx: number): Mask {
  if (!(widthPx >= 1 && widthPx <= 1000))
    throw new CoreError('out-of-range', `The width of the band is ${widthPx} px; it must lie between 1 and 1000 px.`);
  const inside = distanceTo(matte);
  const outside = distanceTo(matte, true);
  const data = new Uint8Array(inside.length);
  for (let i = 0; i < data.length; i++) {
    const v = matte.data[i];
    const toEdge = Math.max(inside[i], outside[i]) - 0.5;
    data[i] = toEdge <= widthPx / 2 || (v > 0 && v < 255) ? UNSURE : v;
  }
  return { width: matte.width, height: matte.height, data };
}

/** Any grey picture as a trimap: white is in, black is out, all greys between are unsure (8 from either end is still sure). */
export function asTrimap({ width, height, data }: Mask): Mask {
  const sideOf = (v: number): number => {
    if (v <= 8) return 0;
    return v >= 247 ? 255 : UNSURE;
  };
  return { width, height, data: data.map(sideOf) };
}
