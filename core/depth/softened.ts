import { boxMean } from '../raster/box';
import { fastGlobalSmoother } from '../raster/fastGlobalSmoother';
import type { DepthMap } from '../raster/picture';

/** So large a difference of colour keeps depths apart that are smoothed, 8-bit steps over three channels. */
const EDGE = 8;

/**
 * A map made smooth over about so many px: two box blurs, or, where colours are given, a smoothing that keeps what
 * their
 * edges part.
 * @param radius of a box blur, px
 * @param colours RGBA of 8 bits of the map's size @default edges are smoothed, too
 * @returns 0 to 65535
 */
export function softened({ width, height, data }: DepthMap, radius: number, colours?: Uint8Array): Float32Array {
  const from = Float32Array.from(data);
  if (colours) {
    // Weighted least squares of strength lambda reach some sqrt(lambda) px; two box blurs 0.8 of their radius.
    fastGlobalSmoother(from, colours, { width, height, sigma: EDGE, lambda: Math.max(1, radius) ** 2 });
    return from;
  }
  const reach = Math.max(1, Math.round(radius));
  return boxMean(boxMean(from, width, height, reach), width, height, reach);
}
