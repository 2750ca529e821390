import type { Size } from '../kind';
import type { DepthMap } from '../raster/picture';

/** Depths of 0 to 1 as a map of 16 bits. */
export function toDepthMap({ width, height }: Size, depths: Float32Array): DepthMap {
  const data = new Uint16Array(depths.length);
  for (let i = 0; i < data.length; i++) data[i] = Math.min(1, Math.max(0, depths[i])) * 65535 + 0.5;
  return { width, height, data };
}
