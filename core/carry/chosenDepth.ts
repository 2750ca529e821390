import type { Size } from '../kind';
import type { Mask } from '../raster/picture';
import type { Candidate } from './candidates';

/** Two keys that agree to so much of all depth are both right: their mean is taken, by how near each lies in time. */
const AGREE = 0.03;
/** And where both fit the colours about equally well, grey levels. */
const EQUALLY = 2;
/** A pixel is trusted whose colours are off by less, grey levels. */
const TRUSTED = 12;

/** A frame's depth, and the share of its pixels that is trusted. */
export interface ChosenDepth extends Size {
  readonly depth: Float32Array;
  readonly trust: number;
}

/** One of a key's candidates, and how near that key lies in time, 0 to 1. */
export interface Saying {
  readonly candidate: Candidate;
  readonly near: number;
}

/**
 * Chooses for each pixel what fits its colours best. @param sayings at least one of them says something of nearly
 * every pixel
 * @param apart what moves by itself, 255: it is not asked how far it is trusted
 */
export function chosenDepth({ width, height }: Size, sayings: readonly Saying[], apart?: Mask): ChosenDepth {
  const depth = new Float32Array(width * height).fill(-1);
  let trusted = 0;
  const hidden = (i: number): boolean => apart !== undefined && apart.data[i] > 0;
  let asked = 0;
  for (let i = 0; i < depth.length; i++) {
    if (!hidden(i)) asked++;
    let best: Saying | undefined;
    for (const saying of sayings)
      if (saying.candidate.depth[i] >= 0 && (!best || saying.candidate.cost[i] < best.candidate.cost[i])) best = saying;
    if (!best) continue;
    const { cost } = best.candidate;
    const value = best.candidate.depth[i];
    let [sum, weights] = [0, 0];
    for (const { candidate, near } of sayings) {
      if (candidate.depth[i] < 0 || candidate.cost[i] > cost[i] + EQUALLY) continue;
      if (Math.abs(candidate.depth[i] - value) > AGREE) continue;
      sum += near * candidate.depth[i];
      weights += near;
    }
    depth[i] = weights > 0 ? sum / weights : value;
    if (cost[i] < TRUSTED && !hidden(i)) trusted++;
  }
  return { width, height, depth: filled(depth, width), trust: asked > 0 ? trusted / asked : 1 };
}

/** What nobody said anything of takes the farther of what is next to it in its row. */
function filled(depth: Float32Array, width: number): Float32Array {
  for (let row = 0; row < depth.length; row += width)
    for (let x = 0; x < width; x++) {
      if (depth[row + x] >= 0) continue;
      let end = x;
      while (end < width && depth[row + end] < 0) end++;
      const left = x > 0 ? depth[row + x - 1] : Infinity;
      const right = end < width ? depth[row + end] : Infinity;
      const value = Math.min(left, right);
      depth.fill(value === Infinity ? 0 : value, row + x, row + end);
      x = end - 1;
    }
  return depth;
}
