/**
 * For every pixel the number of the seed that lies nearest to it, -1 where there is no seed at all. By two passes over eight
 * neighbours, each both ways along the rows: within a pixel of exact, which is enough for what is only continued.
 *
 * Source: Danielsson, "Euclidean distance mapping", Computer Graphics and Image Processing 14, 1980 (vectors carried along).
 */
export function nearestSeed(width: number, height: number, isSeed: (i: number) => boolean): Int32Array {
  const from = new Int32Array(width * height).fill(-1);
  for (let i = 0; i < from.length; i++) if (isSeed(i)) from[i] = i;
  /** Takes a neighbour's seed where that lies nearer. Most neighbours have the same: nothing is worked out then. */
  const look = (i: number, other: number, x: number, y: number): void => {
    const current = from[i];
    if (other < 0 || other === current || current === i) return;
    if (current < 0) {
      from[i] = other;
      return;
    }
    const oy = (other / width) | 0;
    const sy = (current / width) | 0;
    const ox = other - oy * width - x;
    const sx = current - sy * width - x;
    if (ox * ox + (oy - y) * (oy - y) < sx * sx + (sy - y) * (sy - y)) from[i] = other;
  };
  const last = width - 1;
  /** One row: from its own neighbours both ways, and from the three of the row beside it. */
  const pass = (y: number, beside: number, forwards: boolean): void => {
    const row = y * width;
    const near = beside * width;
    const has = beside >= 0 && beside < height;
    const step = forwards ? 1 : -1;
    for (let x = forwards ? 0 : last; x >= 0 && x <= last; x += step) {
      const i = row + x;
      if (from[i] === i) continue;
      const behind = x - step;
      const ahead = x + step;
      if (behind >= 0 && behind <= last) look(i, from[row + behind], x, y);
      if (!has) continue;
      look(i, from[near + x], x, y);
      if (behind >= 0 && behind <= last) look(i, from[near + behind], x, y);
      if (ahead >= 0 && ahead <= last) look(i, from[near + ahead], x, y);
    }
    for (let x = forwards ? last - 1 : 1; x >= 0 && x <= last; x -= step) look(row + x, from[row + x + step], x, y);
  };
  for (let y = 0; y < height; y++) pass(y, y - 1, true);
  for (let y = height - 1; y >= 0; y--) pass(y, y + 1, false);
  return from;
}
