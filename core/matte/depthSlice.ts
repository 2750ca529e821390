import type { DepthMap, Mask } from '../raster/picture';

/** All pixels whose depth lies between `far` and `near` (0 to 1, both ends included): 255 in, 0 out. */
export function depthSlice({ width, height, data }: DepthMap, far: number, near: number): Mask {
  const low = Math.round(Math.min(far, near) * 65535);
  const high = Math.round(Math.max(far, near) * 65535);
  const out = new Uint8Array(data.length);
  for (let i = 0; i < data.length; i++) out[i] = data[i] >= low && data[i] <= high ? 255 : 0;
  return { width, height, data: out };
}
