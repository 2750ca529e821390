import type { Picture8 } from '../raster/picture';

const REACH = 3;
/** Colours that differ by so much have little say, sum of three channels. */
const ALIKE = 30;
/** How much say a colour has by how far it is off. */
const SAY = Float64Array.from({ length: 3 * 255 + 1 }, (_, off) => Math.exp(-off / ALIKE));
/** Depths are told apart in so many steps between the least and the greatest around. */
const BINS = 48;

/**
 * Each depth against the weighted median of what looks alike around it (7 x 7): where that is another surface, it is
 * taken.
 * @param least smaller changes are left, of all depth
 */
export function weightedMedian(depth: Float32Array, { width, height, data }: Picture8, least: number): Float32Array {
  const out = depth.slice();
  const sums = new Float64Array(BINS);
  const weights = new Float64Array(BINS);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const [left, right] = [Math.max(0, x - REACH), Math.min(width - 1, x + REACH)];
      const [top, bottom] = [Math.max(0, y - REACH), Math.min(height - 1, y + REACH)];
      let [low, high] = [Infinity, -Infinity];
      for (let v = top; v <= bottom; v++)
        for (let u = left, k = v * width + u; u <= right; u++, k++) {
          if (depth[k] < low) low = depth[k];
          if (depth[k] > high) high = depth[k];
        }
      // On a surface of one piece nothing would change.
      if (high - low <= least) continue;
      sums.fill(0);
      weights.fill(0);
      let all = 0;
      for (let v = top; v <= bottom; v++)
        for (let u = left, k = v * width + u; u <= right; u++, k++) {
          const off =
            Math.abs(data[4 * k] - data[4 * i]) +
            Math.abs(data[4 * k + 1] - data[4 * i + 1]) +
            Math.abs(data[4 * k + 2] - data[4 * i + 2]);
          const weight = SAY[off];
          const bin = Math.min(BINS - 1, Math.floor(((depth[k] - low) / (high - low)) * BINS));
          weights[bin] += weight;
          sums[bin] += weight * depth[k];
          all += weight;
        }
      let bin = 0;
      for (let sum = weights[0]; sum < all / 2; sum += weights[bin]) bin++;
      const middle = sums[bin] / weights[bin];
      if (Math.abs(middle - depth[i]) > least) out[i] = middle;
    }
  return out;
}
