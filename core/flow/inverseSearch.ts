import type { FlowField } from './flowField';
import { patchFlow } from './patchFlow';
import { halfOf, type Plane } from './plane';

/** The coarsest plane is at least so many px to its shorter side. */
const COARSEST = 24;

/**
 * Where each pixel of one frame has gone to in another: dense inverse search from coarse to fine.
 * Source: Kroeger, Timofte, Dai and Van Gool, "Fast optical flow using dense inverse search", ECCV 2016, without its
 * variational
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
  return levels.reduceRight<FlowField | undefined>((coarser, [a, b]) => patchFlow(a, b, coarser), undefined)!;
}
