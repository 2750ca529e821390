import type { Rect } from './geometry';

/**
 * The smallest rectangle that holds every pixel for which `is` says so, with `room` px around it within the raster;
 * undefined where it says so of none.
 */
export function boundsOf(width: number, height: number, is: (i: number) => boolean, room = 0): Rect | undefined {
  let left = width;
  let top = height;
  let right = 0;
  let bottom = 0;
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (!is(i)) continue;
      if (x < left) left = x;
      if (x >= right) right = x + 1;
      if (y < top) top = y;
      bottom = y + 1;
    }
  }
  return right === 0
    ? undefined
    : {
        left: Math.max(0, left - room),
        top: Math.max(0, top - room),
        right: Math.min(width, right + room),
        bottom: Math.min(height, bottom + room),
      };
}
