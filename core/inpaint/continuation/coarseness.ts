import type { Size } from '../../kind';
import { paddedArea } from './offsets';

/** Repetitions are searched on a grid so many times coarser, more where the longer side would be more than so many px there. */
const FACTOR = 4;
const COARSE_SIDE = 400;
/** A grid so many times coarser still tells as much. */
const AS_GOOD = 1.25;

/** How many times coarser than a ground the grid is on which its repetitions are searched: the one that is searched quickest. */
export function coarseness({ width, height }: Size): number {
  const finest = Math.max(FACTOR, Math.ceil(Math.max(width, height) / COARSE_SIDE));
  let best = finest;
  let least = Infinity;
  for (let factor = finest; factor <= finest * AS_GOOD; factor++) {
    const area = paddedArea({ width: Math.ceil(width / factor), height: Math.ceil(height / factor) });
    if (area < least) {
      least = area;
      best = factor;
    }
  }
  return best;
}
