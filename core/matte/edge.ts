import { CoreError } from '../error';
import { distanceTo } from '../raster/distance';
import { blurMask } from '../raster/gaussian';
import type { Mask } from '../raster/picture';

function requireWithin(name: string, value: number, low: number, high: number): void {
  if (!(value >= low && value <= high)) throw new CoreError('out-of-range', `${name} is ${value} px; it must lie between ${low} and ${high} px.`);
}

/**
 * Moves a matte's edge by `px`, outwards for positive values, by exact distance. The new edge is smooth to a fraction of a pixel:
 * a pixel's coverage is how far the edge has passed its centre, half a pixel either way.
 * @throws CoreError `out-of-range` beyond 1000 px
 */
export function offsetEdge(matte: Mask, px: number): Mask {
  requireWithin('The edge offset', px, -1000, 1000);
  const inside = distanceTo(matte), outside = distanceTo(matte, true);
  const data = new Uint8Array(inside.length);
  for (let i = 0; i < data.length; i++) {
    // The edge lies half a pixel off the outermost centres.
    const signed = inside[i] > 0 ? inside[i] - 0.5 : 0.5 - outside[i];
    const cover = signed + px + 0.5;
    data[i] = cover <= 0 ? 0 : cover >= 1 ? 255 : Math.round(cover * 255);
  }
  return { width: matte.width, height: matte.height, data };
}

/** Softens a matte's edge by a Gaussian of standard deviation `px`. @throws CoreError `out-of-range` beyond 200 px */
export function feather(matte: Mask, px: number): Mask {
  requireWithin('The feather', px, 0, 200);
  return px === 0 ? { ...matte, data: matte.data.slice() } : blurMask(matte, px);
}

/** Evens out an edge: corners and steps smaller than `px` go, the edge stays as sharp as it was. @throws CoreError `out-of-range` */
export function smoothEdge(matte: Mask, px: number): Mask {
  requireWithin('The smoothing', px, 0, 200);
  if (px === 0) return { ...matte, data: matte.data.slice() };
  const { width, height, data } = blurMask(matte, px);
  // An edge blurred by sigma rises by 255 / (sigma sqrt(2 pi)) a pixel at its middle; this much steeper it takes one pixel again.
  const steeper = Math.max(1, px * Math.sqrt(2 * Math.PI));
  for (let i = 0; i < data.length; i++) data[i] = Math.min(255, Math.max(0, Math.round((data[i] - 127.5) * steeper + 127.5)));
  return { width, height, data };
}

export function invertMatte({ width, height, data }: Mask): Mask {
  return { width, height, data: data.map((v) => 255 - v) };
}
