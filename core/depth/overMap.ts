import type { DepthMap } from '../raster/picture';

/**
 * A plane by what a function makes of each pixel's depth, 0 to 1. A plain loop: `Float32Array.from` with a function
 * takes ten times as long.
 */
export function overMap({ data }: DepthMap, make: (depth: number, i: number) => number): Float32Array<ArrayBuffer> {
  const out = new Float32Array(data.length);
  for (let i = 0; i < out.length; i++) out[i] = make(data[i] / 65535, i);
  return out;
}
