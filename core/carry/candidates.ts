import type { Chain } from '../flow/chain';
import { boxMean } from '../raster/box';
import type { Picture8 } from '../raster/picture';
import type { Frame } from './frame';
import type { RigidMotion } from './rigidMotion';
import { splatDepth } from './splatDepth';
import type { SeenKey } from './walk';

/** What one key says of a frame: a depth for each pixel, and how far its colour is off there. */
export interface Candidate {
  /** 0 to 1; -1 where it says nothing. */
  readonly depth: Float32Array;
  /** Mean difference of the three channels over 3 x 3, grey levels; more for what is less sure. */
  readonly cost: Float32Array;
}

/** What says nothing, or comes from beyond a border, costs so much. */
const NOTHING = 80;
/** Flow is believed less than a motion of the whole scene: by so much, and by so much more where it is unsure. */
const FLOW = 3;
const UNSURE = 6;

/** By the motion of the whole scene. */
export function rigidCandidate({ seen, depth, apart }: SeenKey, frame: Frame, motion: RigidMotion): Candidate {
  const splat = splatDepth(depth, motion, apart);
  return { depth: splat.depth, cost: colourCost(frame.picture, seen.picture, splat.from) };
}

/** Along the flow from frame to frame. @param chain from the frame to the key, at half the size */
export function flowCandidate({ seen, depth, apart }: SeenKey, frame: Frame, chain: Chain): Candidate {
  const { width, height } = frame.picture;
  const from = new Int32Array(width * height).fill(-1);
  const said = new Float32Array(width * height).fill(-1);
  const unsure = new Float32Array(width * height);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const k = Math.min(chain.height - 1, y >> 1) * chain.width + Math.min(chain.width - 1, x >> 1);
      unsure[i] = 1 - chain.trust[k];
      const u = Math.round(x + 2 * chain.dx[k]);
      const v = Math.round(y + 2 * chain.dy[k]);
      if (u < 0 || v < 0 || u >= width || v >= height) continue;
      if (apart && apart.data[v * width + u] > 0) continue;
      from[i] = v * width + u;
      said[i] = depth.data[from[i]] / 65535;
    }
  const cost = colourCost(frame.picture, seen.picture, from);
  for (let i = 0; i < cost.length; i++) cost[i] += FLOW + UNSURE * unsure[i];
  return { depth: said, cost };
}

/** How far colours are off where each pixel is thought to come from, in the mean over 3 x 3. */
function colourCost(frame: Picture8, key: Picture8, from: Int32Array): Float32Array {
  const { width, height, data } = frame;
  const off = new Float32Array(width * height);
  for (let i = 0; i < off.length; i++) {
    if (from[i] < 0) {
      off[i] = NOTHING;
      continue;
    }
    const [a, b] = [4 * i, 4 * from[i]];
    off[i] =
      (Math.abs(data[a] - key.data[b]) +
        Math.abs(data[a + 1] - key.data[b + 1]) +
        Math.abs(data[a + 2] - key.data[b + 2])) /
      3;
  }
  const cost = boxMean(off, width, height, 1);
  for (let i = 0; i < off.length; i++) if (from[i] < 0) cost[i] = NOTHING;
  return cost;
}
