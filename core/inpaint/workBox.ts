import { CoreError } from '../error';
import { boundsOf } from '../raster/bounds';
import type { Rect } from '../raster/geometry';
import type { Mask } from '../raster/picture';

/** Around the hole so much of the picture is sampled: this many px at least, or as much as the hole is large. */
const AROUND = 320;

/** The hole, as much around it, and the area to sample from. @throws CoreError `no-hole` */
export function workBox(hole: Mask, from: Mask | undefined): Rect {
  const { width, height } = hole;
  const h = boundsOf(width, height, (i) => hole.data[i] >= 128);
  const f = from && boundsOf(width, height, (i) => from.data[i] >= 128);
  if (!h) throw new CoreError('no-hole', 'There is nothing to fill: the hole has no white pixel.');
  const room = Math.max(AROUND, h.right - h.left, h.bottom - h.top);
  const all = f ?? h;
  return {
    left: Math.max(0, Math.min(h.left - room, all.left)),
    top: Math.max(0, Math.min(h.top - room, all.top)),
    right: Math.min(width, Math.max(h.right + room, all.right)),
    bottom: Math.min(height, Math.max(h.bottom + room, all.bottom)),
  };
}
