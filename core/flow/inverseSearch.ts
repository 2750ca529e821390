import { densified } from './densified';
import { emptyFlow, resizedFlow, type FlowField } from './flowField';
import { PatchSearch, STRIDE } from './patchSearch';
import { halfOf, type Plane } from './plane';

/** The coarsest plane is at least so many px to its shorter side. */
const COARSEST = 24;

/**
 * Where each pixel of one frame has gone to in another: dense inverse search, from coarse to fine; patches that lie on a
 * grid look for themselves from where their neighbours and the coarser ones found themselves, and each pixel takes the mean of the patches
 * over it, by how well they fit there.
 * Source: Kroeger, Timofte, Dai and Van Gool, "Fast optical flow using dense inverse search", ECCV 2016, without its variational
 * refinement.
 * @returns px of the frames' own size
 */
export function inverseSearch(from: Plane, to: Plane): FlowField {
  const levels: [Plane, Plane][] = [[from, to]];
  for (;;) {
    const [a, b] = levels[levels.length - 1];
    if (Math.min(a.width, a.height) < 2 * COARSEST) break;
    levels.push([halfOf(a), halfOf(b)]);
  }
  let flow: FlowField | undefined;
  for (const [a, b] of levels.reverse()) {
    const search = new PatchSearch(a, b);
    const patches = search.find(flow ? resizedFlow(flow, a) : emptyFlow(a));
    flow = densified(a, b, patches, STRIDE);
  }
  return flow!;
}
