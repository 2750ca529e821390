import { boundsOf } from '../../raster/bounds';
import type { Rect } from '../../raster/geometry';
import type { DepthMap, Mask, Picture8 } from '../../raster/picture';

/** A frame of which something can be borrowed, and what of it. */
export interface Source {
  readonly frame: number;
  readonly picture: Pick<Picture8, 'width' | 'height' | 'data'>;
  readonly depth: DepthMap;
  /** 255 where it can be borrowed from. */
  readonly usable: Mask;
  /** What holds all of that. */
  readonly bounds: Rect;
  /** What was painted by hand goes before what was seen, and that before what was invented. */
  readonly rank: 0 | 1 | 2;
}

/** A source; undefined where nothing of it can be borrowed. */
export function sourceOf(parts: Omit<Source, 'bounds'>): Source | undefined {
  const { width, height, data } = parts.usable;
  const bounds = boundsOf(width, height, (i) => data[i] > 0);
  return bounds && { ...parts, bounds };
}

/** How it is said of a pixel where it comes from; 0: nothing is known of it. */
export const knownBy = (rank: Source['rank']): number => rank + 1;

/** The rank of what was invented. */
export const INVENTED = 2;

/** In which order sources are asked for a frame: by rank, then the nearest in time. */
export const inOrder = (sources: readonly Source[], frame: number): Source[] =>
  [...sources].sort((a, b) => a.rank - b.rank || Math.abs(a.frame - frame) - Math.abs(b.frame - frame));
