import type { Size } from '../kind';
import type { Rect } from './geometry';

/** Rasters are kept halved so often beside their own size. */
export const HALVINGS = 3;

/**
 * How often a window of a raster can be read halved and still have as many px as are wanted: it must lie on the grid
 * of the halved copy,
 * or end with the raster. 0: not at all.
 */
export function halvingsFor(window: Rect, raster: Size, wanted: Size): number {
  let halvings = 0;
  const fits = (at: number, end: number, step: number): boolean => at % step === 0 || at === end;
  while (halvings < HALVINGS) {
    const step = 2 << halvings;
    const enough =
      (window.right - window.left) / step >= wanted.width && (window.bottom - window.top) / step >= wanted.height;
    const onGrid =
      window.left % step === 0 &&
      window.top % step === 0 &&
      fits(window.right, raster.width, step) &&
      fits(window.bottom, raster.height, step);
    if (!enough || !onGrid) break;
    halvings++;
  }
  return halvings;
}
