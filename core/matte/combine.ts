import { requireSameSize, type Mask } from '../raster/picture';

/** How a new choice joins the one that is there. */
export const WAYS_TO_COMBINE = ['add', 'take', 'intersect'] as const;
export type WayToCombine = (typeof WAYS_TO_COMBINE)[number];

/** Adds a choice to another, takes it away, or keeps what both have; soft edges are kept. @throws CoreError `size-differs` */
export function combine(choice: Mask, other: Mask, way: WayToCombine): Mask {
  requireSameSize('The choice', choice, 'the other one', other);
  const a = choice.data;
  const b = other.data;
  const data = new Uint8Array(a.length);
  if (way === 'add') for (let i = 0; i < a.length; i++) data[i] = Math.max(a[i], b[i]);
  else if (way === 'take') for (let i = 0; i < a.length; i++) data[i] = Math.min(a[i], 255 - b[i]);
  else for (let i = 0; i < a.length; i++) data[i] = Math.min(a[i], b[i]);
  return { width: choice.width, height: choice.height, data };
}
