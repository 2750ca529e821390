import type { Size } from '@/core/kind';
import { cropPlane } from '@/core/raster/crop';
import type { Rect } from '@/core/raster/geometry';
import { resizeDepth } from '@/core/raster/resizeDepth';
import { loadCarried } from '../shots/carriedDepth';
import { task } from './task';

/** A window of a carried depth map, reduced: to enlarge one to 4K takes some 200 ms, in which the server would not answer. */
export const carriedWindow = task<
  { readonly name: string; readonly size: Size; readonly window: Rect & Size },
  { readonly data: Uint16Array }
>(async ({ name, size, window }) => {
  const { width, height } = window;
  return { data: resizeDepth(cropPlane(await loadCarried(name, size), window), { width, height }).data };
});
