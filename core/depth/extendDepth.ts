import { nearestSeed } from '../raster/nearest';
import { requireSameSize, type DepthMap, type Mask } from '../raster/picture';

/**
 * A plate's own depth: inside the matte's core as it was, elsewhere the depth of the nearest pixel of the core, so that soft and
 * moved edges never take the depth of what lies behind.
 * @param matte coverage, 0 to 255; the core is 128 and more @throws CoreError `size-differs`
 */
export function extendDepth(depth: DepthMap, matte: Mask): DepthMap {
  requireSameSize('The matte', matte, 'the depth map', depth);
  const { width, height } = depth;
  const n = width * height;
  const from = nearestSeed(width, height, (i) => matte.data[i] >= 128);
  const data = new Uint16Array(n);
  for (let i = 0; i < n; i++) data[i] = from[i] < 0 ? depth.data[i] : depth.data[from[i]];
  return { width, height, data };
}
