import { boxMean } from './box';
import { gaussianWeights } from './gaussian';

/** A plane blurred by a Gaussian of standard deviation `sigma` px; beyond the border its outermost pixels go on. */
export function blurPlane(plane: Float32Array, width: number, height: number, sigma: number): Float32Array {
  const weights = gaussianWeights(sigma);
  const reach = (weights.length - 1) / 2;
  const out = new Float32Array(plane.length);
  // One row with what lies beyond it, then one mixed of its neighbours above and below: both are walked in order.
  const mixed = new Float32Array(width + 2 * reach);
  for (let y = 0; y < height; y++) {
    mixed.fill(0);
    for (let n = -reach; n <= reach; n++) {
      const w = weights[n + reach];
      const from = Math.min(height - 1, Math.max(0, y + n)) * width;
      for (let x = 0; x < width; x++) mixed[reach + x] += w * plane[from + x];
    }
    mixed.fill(mixed[reach], 0, reach);
    mixed.fill(mixed[reach + width - 1], reach + width);
    const row = y * width;
    for (let n = 0; n < weights.length; n++) {
      const w = weights[n];
      for (let x = 0; x < width; x++) out[row + x] += w * mixed[x + n];
    }
  }
  return out;
}

/** Nearly the same at a cost that does not depend on `sigma`: three running means. */
export function blurWidely(plane: Float32Array, width: number, height: number, sigma: number): Float32Array {
  // The variance of one running mean over 2 r + 1 px is ((2 r + 1)^2 - 1) / 12.
  const r = Math.max(1, Math.round((Math.sqrt(4 * sigma * sigma + 1) - 1) / 2));
  return boxMean(boxMean(boxMean(plane, width, height, r), width, height, r), width, height, r);
}
