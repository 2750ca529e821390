/** A whole number for each corner of the grid, the same on every machine. */
function hashOf(x: number, y: number, seed: number): number {
  let h = Math.imul(x, 0x27d4eb2d) ^ Math.imul(y, 0x165667b1) ^ Math.imul(seed, 0x9e3779b1);
  h = Math.imul(h ^ (h >>> 15), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0;
}

const cornerAt = (x: number, y: number, seed: number): number => hashOf(x, y, seed) / 2147483647.5 - 1;
const eased = (t: number): number => t * t * t * (t * (6 * t - 15) + 10);

/**
 * Values at the corners of a grid, joined smoothly (value noise with a quintic step, whose first two derivatives are
 * 0 at the corners).
 */
function gridNoise(x: number, y: number, seed: number): number {
  const x0 = Math.floor(x);
  const y0 = Math.floor(y);
  const u = eased(x - x0);
  const a = cornerAt(x0, y0, seed);
  const b = cornerAt(x0, y0 + 1, seed);
  const top = a + u * (cornerAt(x0 + 1, y0, seed) - a);
  const below = b + u * (cornerAt(x0 + 1, y0 + 1, seed) - b);
  return top + eased(y - y0) * (below - top);
}

/**
 * Uneven depth for foliage: a place of the full-size picture always has the same value, whatever is painted in which
 * order.
 * @param grain how far apart bumps lie, full-size px
 * @param seed another number gives other bumps
 * @returns -1 to 1, the mean 0: two thirds in bumps of the grain, one third in bumps of half of it
 */
export function leafNoise(x: number, y: number, grain: number, seed = 0): number {
  const u = x / grain;
  const v = y / grain;
  return (2 * gridNoise(u, v, seed) + gridNoise(2 * u, 2 * v, seed + 1)) / 3;
}
