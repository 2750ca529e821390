import type { Mask } from './picture';

/** The weights of a Gaussian of standard deviation sigma, from -3 sigma to +3 sigma (rounded up), summing to 1. */
export function gaussianWeights(sigma: number): Float32Array {
  const reach = Math.max(1, Math.ceil(3 * sigma));
  const weights = Float32Array.from({ length: 2 * reach + 1 }, (_, n) =>
    Math.exp(-((n - reach) ** 2) / (2 * sigma * sigma)),
  );
  const sum = weights.reduce((a, b) => a + b, 0);
  return weights.map((w) => w / sum);
}

/** A mask blurred by a Gaussian of standard deviation `sigma` px; beyond the border its outermost pixels go on. */
export function blurMask({ width, height, data }: Mask, sigma: number): Mask {
  const weights = gaussianWeights(sigma);
  const reach = (weights.length - 1) / 2;
  const across = new Float32Array(width * height);
  const out = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) blurRow(data, { row: y * width, width }, weights, across);
  // Down the columns a row at a time, so that memory is walked in order. `run`: how many rows up to this one say the
  // same of a column.
  const run = new Int32Array(width);
  const rowAt = (y: number): number => Math.min(height - 1, Math.max(0, y)) * width;
  for (let y = -reach; y < height + reach; y++) {
    const row = rowAt(y);
    const before = rowAt(y - 1);
    const to = (y - reach) * width;
    for (let x = 0; x < width; x++) {
      run[x] = across[row + x] === across[before + x] ? run[x] + 1 : 1;
      if (to < 0) continue;
      if (run[x] > 2 * reach) {
        out[to + x] = across[row + x] + 0.5;
        continue;
      }
      let sum = 0;
      for (let n = 0; n < weights.length; n++) sum += weights[n] * across[rowAt(y - 2 * reach + n) + x];
      out[to + x] = sum + 0.5;
    }
  }
  return { width, height, data: out };
}

/** One row; where all that the Gaussian sees is one value, as it mostly is in a matte, it is that value. */
function blurRow(
  data: Uint8Array,
  { row, width }: { readonly row: number; readonly width: number },
  weights: Float32Array,
  out: Float32Array,
): void {
  const reach = (weights.length - 1) / 2;
  // How far the run of equal values that ends here reaches back.
  let run = reach;
  for (let x = -reach, seen = data[row]; x < width + reach; x++) {
    const value = data[row + Math.min(width - 1, Math.max(0, x))];
    run = value === seen ? run + 1 : 1;
    seen = value;
    const centre = x - reach;
    if (centre < 0 || centre >= width) continue;
    if (run > 2 * reach) {
      out[row + centre] = value;
      continue;
    }
    let sum = 0;
    for (let n = 0; n < weights.length; n++) {
      const at = centre + n - reach;
      sum += weights[n] * data[row + Math.min(width - 1, Math.max(0, at))];
    }
    out[row + centre] = sum;
  }
}
