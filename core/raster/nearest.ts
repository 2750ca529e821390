/**
 * For every pixel the number of the seed that lies nearest to it, -1 where there is no seed at all. By two passes over eight
 * neighbours, each both ways along the rows: within a pixel of exact, which is enough for what is only continued.
 *
 * Source: Danielsson, "Euclidean distance mapping", Computer Graphics and Image Processing 14, 1980 (vectors carried along).
 */
export function nearestSeed(width: number, height: number, isSeed: (i: number) => boolean): Int32Array {
  const from = new Int32Array(width * height).fill(-1);
  for (let i = 0; i < from.length; i++) if (isSeed(i)) from[i] = i;
  const look = (x: number, y: number, dx: number, dy: number): void => {
    const i = y * width + x;
    const u = x + dx;
    const v = y + dy;
    if (u < 0 || v < 0 || u >= width || v >= height) return;
    const other = from[v * width + u];
    const current = from[i];
    if (other < 0) return;
    const ox = other % width;
    const far = (ox - x) ** 2 + ((other - ox) / width - y) ** 2;
    const sx = current % width;
    if (current < 0 || far < (sx - x) ** 2 + ((current - sx) / width - y) ** 2) from[i] = other;
  };
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      look(x, y, -1, 0);
      look(x, y, 0, -1);
      look(x, y, -1, -1);
      look(x, y, 1, -1);
    }
    for (let x = width - 1; x >= 0; x--) look(x, y, 1, 0);
  }
  for (let y = height - 1; y >= 0; y--) {
    for (let x = width - 1; x >= 0; x--) {
      look(x, y, 1, 0);
      look(x, y, 0, 1);
      look(x, y, 1, 1);
      look(x, y, -1, 1);
    }
    for (let x = 0; x < width; x++) look(x, y, -1, 0);
  }
  return from;
}
