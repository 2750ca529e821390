import { kernels, layOut } from '../../kernels/kernels';
import { BY_LOOK, BY_PLACE, MIDDLE, PLACE_BESIDE_LOOK, scaled } from './covariance';
import { FEATURES, type Nodes } from './nodes';
import type { Regression } from './regress';

/** What is said of every node: its depth, and how that changes with place and colour. */
export interface NodeDepths {
  readonly depths: Float32Array;
  /** Five a node: by x and y over the longer side, by L, a and b in the features' units. */
  readonly slopes: Float32Array;
}

/** Values a place that the kernel writes. */
const SAID = 6;

/** What a regression says of all nodes. */
export function foretellNodes(nodes: Nodes, { features, weights, reach }: Regression): NodeDepths {
  const { count } = nodes;
  const at = scaled(nodes.features, reach);
  const many = (weights.length + 3) & ~3;
  const k = kernels();
  const {
    at: [places, samples, out],
    buffer,
  } = layOut([at.length * 4, many * (FEATURES + 1) * 4, count * SAID * 4], k);
  new Float32Array(buffer, places, at.length).set(at);
  const lists = new Float32Array(buffer, samples, many * (FEATURES + 1)).fill(0);
  // Planes are sums over all samples alike: worked out once.
  let [flat, planeX, planeY] = [0, 0, 0];
  for (let n = 0; n < weights.length; n++) {
    for (let c = 0; c < FEATURES; c++) lists[c * many + n] = features[n * FEATURES + c];
    lists[FEATURES * many + n] = weights[n];
    flat += weights[n];
    planeX += weights[n] * (features[n * FEATURES] * reach.x - MIDDLE[0]);
    planeY += weights[n] * (features[n * FEATURES + 1] * reach.y - MIDDLE[1]);
  }
  k.foretellPlaces(places, count, samples, many, BY_PLACE, BY_LOOK, PLACE_BESIDE_LOOK, out);
  const said = new Float32Array(buffer, out, count * SAID);
  const depths = new Float32Array(count);
  const slopes = new Float32Array(count * 5);
  for (let m = 0; m < count; m++) {
    const i = m * FEATURES;
    const from = m * SAID;
    const plane = planeX * (at[i] * reach.x - MIDDLE[0]) + planeY * (at[i + 1] * reach.y - MIDDLE[1]);
    depths[m] = said[from] + flat + plane;
    slopes[m * 5] = said[from + 1] / reach.x + planeX;
    slopes[m * 5 + 1] = said[from + 2] / reach.y + planeY;
    slopes[m * 5 + 2] = said[from + 3] / reach.light;
    slopes[m * 5 + 3] = said[from + 4] / reach.colour;
    slopes[m * 5 + 4] = said[from + 5] / reach.colour;
  }
  return { depths, slopes };
}
