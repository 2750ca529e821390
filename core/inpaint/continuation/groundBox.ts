import { CoreError } from '../../error';
import { boundsOf } from '../../raster/bounds';
import type { Rect } from '../../raster/geometry';
import type { Mask } from '../../raster/picture';

/** Around the hole so much is looked at, px: more tells no more (docs/computations.md). */
export const ROOM = 200;

/**
 * The part of a picture that tells how a hole goes on: the hole and what lies around it; all that may be sampled from, where of
 * that there is less near by than the hole holds.
 * @throws CoreError `no-hole`
 */
export function groundBox(hole: Mask, sampleFrom: Mask | undefined): Rect {
  const { width, height } = hole;
  const within = boundsOf(width, height, (i) => hole.data[i] >= 128);
  if (!within) throw new CoreError('no-hole', 'There is nothing to fill: the hole has no white pixel.');
  const near: Rect = {
    left: Math.max(0, within.left - ROOM),
    top: Math.max(0, within.top - ROOM),
    right: Math.min(width, within.right + ROOM),
    bottom: Math.min(height, within.bottom + ROOM),
  };
  if (!sampleFrom) return near;
  let open = 0;
  let sources = 0;
  for (let y = near.top; y < near.bottom; y++)
    for (let i = y * width + near.left; i < y * width + near.right; i++)
      if (hole.data[i] >= 128) open++;
      else if (sampleFrom.data[i] >= 128) sources++;
  const all = boundsOf(width, height, (i) => sampleFrom.data[i] >= 128);
  if (sources >= open || !all) return near;
  return {
    left: Math.min(near.left, all.left),
    top: Math.min(near.top, all.top),
    right: Math.max(near.right, all.right),
    bottom: Math.max(near.bottom, all.bottom),
  };
}
