import type { Size } from '../kind';
import type { Point } from '../raster/geometry';
import type { Mask } from '../raster/picture';

/** A straight stroke by which the artist says how a ground goes on, px of the source. */
export interface Stroke {
  readonly from: Point;
  readonly to: Point;
}

/** What lies within so many px of a stroke: 255. */
export function besideStroke({ width, height }: Size, { from, to }: Stroke, reach: number): Mask {
  const data = new Uint8Array(width * height);
  const dx = to.x - from.x;
  const dy = to.y - from.y;
  const squared = dx * dx + dy * dy;
  const left = Math.max(0, Math.floor(Math.min(from.x, to.x) - reach));
  const right = Math.min(width, Math.ceil(Math.max(from.x, to.x) + reach));
  const top = Math.max(0, Math.floor(Math.min(from.y, to.y) - reach));
  const bottom = Math.min(height, Math.ceil(Math.max(from.y, to.y) + reach));
  for (let y = top; y < bottom; y++)
    for (let x = left; x < right; x++) {
      const px = x + 0.5 - from.x;
      const py = y + 0.5 - from.y;
      const along = squared > 0 ? Math.min(1, Math.max(0, (px * dx + py * dy) / squared)) : 0;
      if ((px - along * dx) ** 2 + (py - along * dy) ** 2 <= reach * reach) data[y * width + x] = 255;
    }
  return { width, height, data };
}

/** The two sides of a stroke that goes on straight beyond its ends, 255 each: on the left of its way first. */
export function sidesOfStroke({ width, height }: Size, { from, to }: Stroke): readonly [Mask, Mask] {
  const left = new Uint8Array(width * height);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++)
      if ((to.x - from.x) * (y + 0.5 - from.y) - (to.y - from.y) * (x + 0.5 - from.x) < 0) left[i] = 255;
  return [
    { width, height, data: left },
    { width, height, data: left.map((v) => 255 - v) },
  ];
}
