import type { Mask } from './picture';

/** The weights of a Gaussian of standard deviation sigma, from -3 sigma to +3 sigma (rounded up), summing to 1. */
export function gaussianWeights(sigma: number): Float32Array {
  const reach = Math.max(1, Math.ceil(3 * sigma));
  const weights = Float32Array.from({ length: 2 * reach + 1 }, (_, n) => Math.exp(-((n - reach) ** 2) / (2 * sigma * sigma)));
  const sum = weights.reduce((a, b) => a + b, 0);
  return weights.map((w) => w / sum);
}

/** A mask blurred by a Gaussian of standard deviation `sigma` px; beyond the border its outermost pixels go on. */
export function blurMask({ width, height, data }: Mask, sigma: number): Mask {
  const weights = gaussianWeights(sigma), reach = (weights.length - 1) / 2;
  const across = new Float32Array(width * height), out = new Uint8Array(width * height);
  const padded = new Float32Array(width + 2 * reach);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let x = 0; x < padded.length; x++) padded[x] = data[row + Math.min(width - 1, Math.max(0, x - reach))];
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let n = 0; n < weights.length; n++) sum += weights[n] * padded[x + n];
      across[row + x] = sum;
    }
  }
  // Down the columns a row at a time, so that memory is walked in order.
  const sums = new Float32Array(width);
  for (let y = 0; y < height; y++) {
    sums.fill(0);
    for (let n = 0; n < weights.length; n++) {
      const row = Math.min(height - 1, Math.max(0, y + n - reach)) * width, w = weights[n];
      for (let x = 0; x < width; x++) sums[x] += w * across[row + x];
    }
    for (let x = 0; x < width; x++) out[y * width + x] = sums[x] + 0.5;
  }
  return { width, height, data: out };
}
