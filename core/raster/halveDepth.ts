import type { DepthMap } from './picture';
import { APART } from './resizeDepth';

/**
 * A depth map at half its size: the mean over two by two, but where two things meet only of the one that covers more;
 * the nearer one on a tie.
 */
export function halveDepth({ width, height, data }: DepthMap): DepthMap {
  const w = (width + 1) >> 1;
  const h = (height + 1) >> 1;
  const out = new Uint16Array(w * h);
  for (let y = 0; y < h; y++) {
    const row = 2 * y * width;
    const below = 2 * y + 1 < height ? row + width : row;
    for (let x = 0; x < w; x++) {
      const a = 2 * x;
      const b = a + 1 < width ? a + 1 : a;
      const [p, q, r, s] = [data[row + a], data[row + b], data[below + a], data[below + b]];
      const low = Math.min(p, q, r, s);
      const high = Math.max(p, q, r, s);
      out[y * w + x] = high - low <= APART ? (p + q + r + s + 2) >> 2 : meanOfMore([p, q, r, s], (low + high) / 2);
    }
  }
  return { width: w, height: h, data: out };
}

function meanOfMore(values: readonly number[], middle: number): number {
  const near = values.filter((v) => v >= middle);
  const far = values.filter((v) => v < middle);
  const more = near.length >= far.length ? near : far;
  return Math.round(more.reduce((sum, v) => sum + v, 0) / more.length);
}
