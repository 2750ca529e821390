import { boxMean } from '../../raster/box';
import { fastGlobalSmoother } from '../../raster/fastGlobalSmoother';
import type { StartLook } from './startLook';

/** The dark channel is the least over a window so wide: half of its side, px of the look. */
const WINDOW = 7;
/** The haze's own colour is that of the haziest share of the picture. */
const HAZIEST = 1e-3;
const SMOOTHING = { lambda: 200, sigma: 10 };

/**
 * How much of what each place shows comes through the haze (transmission), 0 to 1.
 * Source: He, Sun and Tang, "Single image haze removal using dark channel prior", PAMI 33(12), 2011.
 */
export function transmission({ width, height, picture }: StartLook): Float32Array {
  const { data } = picture;
  const dark = leastAround(
    new Float32Array(width * height).map((_, i) => Math.min(data[i * 4], data[i * 4 + 1], data[i * 4 + 2])),
    width,
    height,
  );
  const haziest = Float32Array.from(dark).sort()[Math.floor((1 - HAZIEST) * (dark.length - 1))];
  const order = [...dark.keys()].filter((i) => dark[i] >= haziest);
  const air = [0, 1, 2].map((c) => Math.max(1, order.reduce((sum, i) => sum + data[i * 4 + c], 0) / order.length));
  const through = leastAround(
    new Float32Array(width * height).map((_, i) =>
      Math.min(data[i * 4] / air[0], data[i * 4 + 1] / air[1], data[i * 4 + 2] / air[2]),
    ),
    width,
    height,
  ).map((v) => Math.min(1, Math.max(0, 1 - v)));
  // The windows' squares are taken back along the picture's edges.
  const out = boxMean(through, width, height, 2);
  fastGlobalSmoother(out, data, { width, height, ...SMOOTHING });
  return out;
}

/** The least value in a square window around every place. */
function leastAround(plane: Float32Array, width: number, height: number): Float32Array {
  const across = new Float32Array(plane.length);
  const out = new Float32Array(plane.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let least = Infinity;
      for (let u = Math.max(0, x - WINDOW); u <= Math.min(width - 1, x + WINDOW); u++)
        if (plane[y * width + u] < least) least = plane[y * width + u];
      across[y * width + x] = least;
    }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let least = Infinity;
      for (let v = Math.max(0, y - WINDOW); v <= Math.min(height - 1, y + WINDOW); v++)
        if (across[v * width + x] < least) least = across[v * width + x];
      out[y * width + x] = least;
    }
  return out;
}
