import type { DepthMap } from '../raster/picture';

/**
 * A depth map in 8 bits without terraces: what a value loses is handed on to its neighbours, so that slopes stay slopes in the mean.
 * Rows are walked there and back, which leaves no worms.
 * Source: Floyd and Steinberg, "An adaptive algorithm for spatial greyscale", Proc. SID 17(2), 1976.
 */
export function ditherToEightBits({ width, height, data }: DepthMap): Uint8Array {
  const out = new Uint8Array(width * height);
  let here = new Float32Array(width + 2);
  let below = new Float32Array(width + 2);
  for (let y = 0; y < height; y++) {
    const step = y % 2 === 0 ? 1 : -1;
    for (let n = 0, x = step > 0 ? 0 : width - 1; n < width; n++, x += step) {
      const wanted = data[y * width + x] / 257 + here[x + 1];
      const value = Math.min(255, Math.max(0, Math.round(wanted)));
      out[y * width + x] = value;
      const lost = wanted - value;
      here[x + 1 + step] += (lost * 7) / 16;
      below[x + 1 - step] += (lost * 3) / 16;
      below[x + 1] += (lost * 5) / 16;
      below[x + 1 + step] += lost / 16;
    }
    [here, below] = [below, here.fill(0)];
  }
  return out;
}
