import type { Ranges } from './ranges';

/** The two pictures must agree on a disparity, px. */
const AGREE = 1.5;
/** Fewer pixels of one disparity, by so many px from neighbour to neighbour, are a speck. */
const SPECK = 120;
const SPECK_STEP = 2;
export const UNKNOWN = -32768;

/**
 * The cheapest disparity of every pixel, between whole px by a parabola; `UNKNOWN` where the right picture, asked the same way, disagrees
 * (what only one of them sees), and in specks.
 */
export function cheapest(sums: Uint16Array, { width, height, first, last, at }: Ranges): Float32Array {
  const out = new Float32Array(width * height);
  const rightBest = new Uint16Array(width);
  const rightAt = new Int16Array(width);
  for (let y = 0; y < height; y++) {
    rightBest.fill(65535);
    rightAt.fill(UNKNOWN);
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const k = at[i];
      const many = last[i] - first[i] + 1;
      let best = 0;
      for (let q = 0; q < many; q++) {
        const cost = sums[k + q];
        if (cost < sums[k + best]) best = q;
        const u = x - first[i] - q;
        if (u >= 0 && u < width && cost < rightBest[u]) {
          rightBest[u] = cost;
          rightAt[u] = first[i] + q;
        }
      }
      let between = 0;
      if (best > 0 && best < many - 1) {
        const [a, b, c] = [sums[k + best - 1], sums[k + best], sums[k + best + 1]];
        const bend = a - 2 * b + c;
        if (bend > 0) between = Math.min(0.5, Math.max(-0.5, (a - c) / (2 * bend)));
      }
      out[i] = first[i] + best + between;
    }
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const u = x - Math.round(out[i]);
      if (u < 0 || u >= width || Math.abs(rightAt[u] - out[i]) > AGREE) out[i] = UNKNOWN;
    }
  }
  removeSpecks(out, width);
  return out;
}

function removeSpecks(disparity: Float32Array, width: number): void {
  const seen = new Uint8Array(disparity.length);
  const stack = new Int32Array(disparity.length);
  for (let first = 0; first < disparity.length; first++) {
    if (seen[first] || disparity[first] === UNKNOWN) continue;
    let many = 1;
    stack[0] = first;
    seen[first] = 1;
    for (let n = 0; n < many; n++) {
      const i = stack[n];
      const x = i % width;
      for (const j of [x > 0 ? i - 1 : -1, x < width - 1 ? i + 1 : -1, i - width, i + width]) {
        if (j < 0 || j >= disparity.length || seen[j] || disparity[j] === UNKNOWN) continue;
        if (Math.abs(disparity[j] - disparity[i]) > SPECK_STEP) continue;
        seen[j] = 1;
        stack[many++] = j;
      }
    }
    if (many < SPECK) for (let n = 0; n < many; n++) disparity[stack[n]] = UNKNOWN;
  }
}
