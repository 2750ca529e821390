import { fastGlobalSmoother } from '../raster/fastGlobalSmoother';
import type { Picture8 } from '../raster/picture';

/** At the size that depth was made in, and for each doubling of it four times as much. */
const SMOOTHING = { lambda: 200, sigma: 8 };

/**
 * Fits enlarged depth to the picture's edges, in place.
 * @param edges how closely, 0 (not at all) to 1
 * @param from how wide the depth was before it was enlarged, px
 */
export function fitToEdges(
  depth: Float32Array,
  { width, height, data }: Picture8,
  { edges, from }: { readonly edges: number; readonly from: number },
): void {
  if (edges === 0) return;
  const scale = Math.max(1, width / from);
  fastGlobalSmoother(depth, data, {
    ...{ width, height, sigma: SMOOTHING.sigma },
    lambda: SMOOTHING.lambda * edges * scale * scale,
  });
}
