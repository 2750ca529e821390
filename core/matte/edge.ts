import { CoreError } from '../error';
import { boundsOf } from '../raster/bounds';
import { cropPlane } from '../raster/crop';
import { distanceTo } from '../raster/distance';
import { blurMask } from '../raster/gaussian';
import type { Mask } from '../raster/picture';

function requireWithin(name: string, value: number, low: number, high: number): void {
  if (!(value >= low && value <= high))
    throw new CoreError('out-of-range', `${name} is ${value} px; it must lie between ${low} and ${high} px.`);
}

/** Works on the part of a matte that is covered and what lies within `reach` px of it; beyond that nothing is, and stays so. */
function withinReach(matte: Mask, reach: number, work: (part: Mask) => Mask): Mask {
  const { width, height, data } = matte;
  const out = new Uint8Array(width * height);
  const around = boundsOf(width, height, (i) => data[i] > 0, Math.ceil(reach) + 1);
  if (!around) return { width, height, data: out };
  const { left, top, right, bottom } = around;
  const w = right - left;
  const h = bottom - top;
  const done = work(cropPlane(matte, around));
  for (let y = 0; y < h; y++) out.set(done.data.subarray(y * w, (y + 1) * w), (top + y) * width + left);
  return { width, height, data: out };
}

/**
 * Moves a matte's edge by `px`, outwards for positive values, by exact distance. The new edge is smooth to a fraction of a pixel:
 * a pixel's coverage is how far the edge has passed its centre, half a pixel either way.
 * @throws CoreError `out-of-range` beyond 1000 px
 */
export function offsetEdge(matte: Mask, px: number): Mask {
  requireWithin('The edge offset', px, -1000, 1000);
  return withinReach(matte, Math.max(2, px + 2), (part) => moved(part, px));
}

function moved({ width, height, data: cover }: Mask, px: number): Mask {
  const inside = distanceTo({ width, height, data: cover });
  const outside = distanceTo({ width, height, data: cover }, true);
  const data = new Uint8Array(inside.length);
  for (let i = 0; i < data.length; i++) {
    // The edge lies half a pixel off the outermost centres.
    const signed = inside[i] > 0 ? inside[i] - 0.5 : 0.5 - outside[i];
    const passed = Math.min(1, Math.max(0, signed + px + 0.5));
    data[i] = Math.round(passed * 255);
  }
  return { width, height, data };
}

/** Softens a matte's edge by a Gaussian of standard deviation `px`. @throws CoreError `out-of-range` beyond 200 px */
export function feather(matte: Mask, px: number): Mask {
  requireWithin('The feather', px, 0, 200);
  return px === 0
    ? { ...matte, data: matte.data.slice() }
    : withinReach(matte, 3 * px + 1, (part) => blurMask(part, px));
}

/**
 * Evens out an edge: corners and steps smaller than `px` go, the edge stays as sharp as it was. @throws CoreError
 * `out-of-range`
 */
export function smoothEdge(matte: Mask, px: number): Mask {
  requireWithin('The smoothing', px, 0, 200);
  if (px === 0) return { ...matte, data: matte.data.slice() };
  const { width, height, data } = withinReach(matte, 3 * px + 1, (part) => blurMask(part, px));
  // An edge blurred by sigma rises by 255 / (sigma sqrt(2 pi)) a pixel at its middle; this much steeper it takes one pixel again.
  const steeper = Math.max(1, px * Math.sqrt(2 * Math.PI));
  for (let i = 0; i < data.length; i++)
    data[i] = Math.min(255, Math.max(0, Math.round((data[i] - 127.5) * steeper + 127.5)));
  return { width, height, data };
}

export function invertMatte({ width, height, data }: Mask): Mask {
  return { width, height, data: data.map((v) => 255 - v) };
}
