import { requireSameSize, type DepthMap, type Mask } from '../raster/picture';

/**
 * A plate's own depth: inside the matte's core as it was, elsewhere the depth of the nearest pixel of the core, so that soft and
 * moved edges never take the depth of what lies behind. Nearest by two passes over eight neighbours, which is exact enough for a
 * depth that is continued.
 * @param matte coverage, 0 to 255; the core is 128 and more @throws CoreError `size-differs`
 */
export function extendDepth(depth: DepthMap, matte: Mask): DepthMap {
  requireSameSize('The matte', matte, 'the depth map', depth);
  const { width, height } = depth, n = width * height;
  const from = new Int32Array(n).fill(-1), distance = new Float64Array(n).fill(Infinity);
  for (let i = 0; i < n; i++) if (matte.data[i] >= 128) { from[i] = i; distance[i] = 0; }
  const look = (i: number, x: number, y: number, dx: number, dy: number): void => {
    const u = x + dx, v = y + dy;
    if (u < 0 || v < 0 || u >= width || v >= height) return;
    const source = from[v * width + u];
    if (source < 0) return;
    const sx = source % width, d = (sx - x) ** 2 + ((source - sx) / width - y) ** 2;
    if (d < distance[i]) { distance[i] = d; from[i] = source; }
  };
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) { const i = y * width + x; look(i, x, y, -1, 0); look(i, x, y, 0, -1); look(i, x, y, -1, -1); look(i, x, y, 1, -1); }
    for (let x = width - 1; x >= 0; x--) look(y * width + x, x, y, 1, 0);
  }
  for (let y = height - 1; y >= 0; y--) {
    for (let x = width - 1; x >= 0; x--) { const i = y * width + x; look(i, x, y, 1, 0); look(i, x, y, 0, 1); look(i, x, y, 1, 1); look(i, x, y, -1, 1); }
    for (let x = 0; x < width; x++) look(y * width + x, x, y, -1, 0);
  }
  const data = new Uint16Array(n);
  for (let i = 0; i < n; i++) data[i] = from[i] < 0 ? depth.data[i] : depth.data[from[i]];
  return { width, height, data };
}
