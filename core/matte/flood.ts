import { CoreError } from '../error';
import type { Mask, Picture8 } from '../raster/picture';

export interface FloodSeed {
  /** Place of the seed, px. */
  readonly x: number;
  readonly y: number;
  /** The seed's colour is the mean over a square of this many px to each side. @default 0 */
  readonly reach?: number;
  /** Only what hangs together with the seed, or everywhere. @default true */
  readonly connected?: boolean;
}

/**
 * What tolerance each pixel needs to be flooded from the seed: 0 to 255, the largest difference of a channel; for a connected
 * flood the largest on the easiest way there. Computed once after the click: every tolerance is then a comparison.
 *
 * Source: the minimax path, found by Dijkstra's way with one bucket a tolerance.
 * @throws CoreError `outside` where the seed does not lie in the picture
 */
export function floodTolerance(picture: Picture8, seed: FloodSeed): Mask {
  const { width, height, data } = picture;
  const sx = Math.floor(seed.x);
  const sy = Math.floor(seed.y);
  const reach = seed.reach ?? 0;
  if (!(sx >= 0 && sy >= 0 && sx < width && sy < height))
    throw new CoreError(
      'outside',
      `The seed (${seed.x}, ${seed.y}) lies outside the picture of ${width} × ${height} px.`,
    );
  const mean = [0, 0, 0];
  let n = 0;
  for (let y = Math.max(0, sy - reach); y <= Math.min(height - 1, sy + reach); y++) {
    for (let x = Math.max(0, sx - reach); x <= Math.min(width - 1, sx + reach); x++, n++)
      for (let c = 0; c < 3; c++) mean[c] += data[(y * width + x) * 4 + c];
  }
  const [r, g, b] = mean.map((v) => v / n);
  const reached = new Uint8Array(width * height);
  for (let i = 0; i < reached.length; i++)
    reached[i] = Math.round(
      Math.max(Math.abs(data[i * 4] - r), Math.abs(data[i * 4 + 1] - g), Math.abs(data[i * 4 + 2] - b)),
    );
  if (seed.connected === false) return { width, height, data: reached };

  const needed = new Uint8Array(reached.length).fill(255);
  const done = new Uint8Array(reached.length);
  const buckets: number[][] = Array.from({ length: 256 }, () => []);
  const start = sy * width + sx;
  needed[start] = reached[start];
  buckets[reached[start]].push(start);
  for (let level = 0; level < 256; level++) {
    const bucket = buckets[level];
    // The bucket may grow while it is walked: neighbours that need no more than this level join it.
    for (let at = 0; at < bucket.length; at++) {
      const i = bucket[at];
      const x = i % width;
      if (done[i]) continue;
      done[i] = 1;
      const visit = (j: number): void => {
        const need = reached[j] > level ? reached[j] : level;
        if (done[j] || (need >= needed[j] && need !== 255)) return;
        needed[j] = need;
        buckets[need].push(j);
      };
      if (x > 0) visit(i - 1);
      if (x < width - 1) visit(i + 1);
      if (i >= width) visit(i - width);
      if (i + width < reached.length) visit(i + width);
    }
    buckets[level] = [];
  }
  return { width, height, data: needed };
}

/** The flood at a tolerance, 0 to 255: 255 in, 0 out. */
export function floodAt(needed: Mask, tolerance: number): Mask {
  return { width: needed.width, height: needed.height, data: needed.data.map((v) => (v <= tolerance ? 255 : 0)) };
}
