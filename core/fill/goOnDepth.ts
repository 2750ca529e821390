import { smoothFill } from '../inpaint/smoothFill';
import { distanceTo } from '../raster/distance';
import { requireSameSize, type DepthMap, type Mask } from '../raster/picture';
import { layoutOf, NO_PLANE, type Layout } from '../depth/planes/layout';
import { depthAt } from '../depth/planes/plane';

/** Planes are looked for at this size at most: longer side, px. */
const SIDE = 1600;
/** What is farther off its plane than this does not lie on it, of the whole ruler. */
const OFF = 0.02;
/** Beside the hole so much of what is said to lie on a plane must do so, or it goes on smoothly; so near to the hole, px. */
const HOLDS = 0.5;
const BESIDE = 12;

/**
 * How depth goes on behind nearer things: on the planes that its surroundings lie on, parted where these meet; as it was where they
 * lie on none.
 * @param map its hole filled smoothly
 * @param hole 128 and more: what nearer things hide
 * @throws CoreError `size-differs`
 */
export function goOnDepth(map: DepthMap, hole: Mask): DepthMap {
  requireSameSize('The hole', hole, 'the depth map', map);
  const { width, height, data } = map;
  const out: DepthMap = { width, height, data: Uint16Array.from(data) };
  const step = Math.max(1, Math.max(width, height) / SIDE);
  const w = Math.ceil(width / step);
  const h = Math.ceil(height / step);
  const columns = Int32Array.from({ length: w }, (_, x) => Math.min(width - 1, Math.floor((x + 0.5) * step)));
  const rows = Int32Array.from({ length: h }, (_, y) => Math.min(height - 1, Math.floor((y + 0.5) * step)));
  const depth = new Float32Array(w * h);
  const open = new Uint8Array(w * h);
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      const j = rows[y] * width + columns[x];
      depth[i] = data[j] / 65535;
      open[i] = hole.data[j] >= 128 ? 1 : 0;
    }
  const known = open.map((v) => 1 - v);
  const layout = layoutOf({ width: w, height: h, depth, known, hole: open });
  if (layout.planes.length === 0) return out;
  const small: Small = { layout, depth, open, width: w, height: h };
  const holds = holding(small);
  const residuals = residualsOf(small);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (hole.data[i] < 128) continue;
      const n = layout.labels[Math.min(h - 1, Math.floor(y / step)) * w + Math.min(w - 1, Math.floor(x / step))];
      if (n === NO_PLANE || !holds[n]) continue;
      const [u, v] = [(x + 0.5) / step - 0.5, (y + 0.5) / step - 0.5];
      const value = depthAt(layout.planes[n], u, v) + between(residuals, { width: w, height: h, x: u, y: v });
      out.data[i] = Math.min(65535, Math.max(0, Math.round(65535 * value)));
    }
  return out;
}

interface Small {
  readonly layout: Layout;
  readonly depth: Float32Array;
  readonly open: Uint8Array;
  readonly width: number;
  readonly height: number;
}

/** Which planes hold beside the hole. */
function holding({ layout, depth, open, width, height }: Small): boolean[] {
  const away = distanceTo({ width, height, data: open.map((v) => (v ? 0 : 255)) });
  const on = layout.planes.map(() => 0);
  const all = layout.planes.map(() => 0);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (open[i] || away[i] > BESIDE) continue;
      const n = layout.labels[i];
      all[n]++;
      if (Math.abs(depth[i] - depthAt(layout.planes[n], x, y)) < OFF) on[n]++;
    }
  return on.map((many, n) => all[n] > 0 && many >= HOLDS * all[n]);
}

/** How far off its plane each place is, spread into the hole; four values a place, of which the first counts. */
function residualsOf({ layout, depth, open, width, height }: Small): Float32Array {
  const residuals = new Float32Array(width * height * 4);
  const untold = Uint8Array.from(open);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (open[i]) continue;
      const residual = depth[i] - depthAt(layout.planes[layout.labels[i]], x, y);
      if (Math.abs(residual) > OFF) untold[i] = 1;
      else residuals[i * 4] = residual;
    }
  smoothFill(residuals, untold, { width, height, channels: 4 });
  return residuals;
}

interface At {
  readonly width: number;
  readonly height: number;
  readonly x: number;
  readonly y: number;
}

function between(values: Float32Array, { width, height, x, y }: At): number {
  const u = Math.min(width - 1, Math.max(0, x));
  const v = Math.min(height - 1, Math.max(0, y));
  const x0 = Math.floor(u);
  const y0 = Math.floor(v);
  const a = (y0 * width + x0) * 4;
  const across = x0 + 1 < width ? 4 : 0;
  const down = y0 + 1 < height ? width * 4 : 0;
  const top = values[a] + (u - x0) * (values[a + across] - values[a]);
  const bottom = values[a + down] + (u - x0) * (values[a + down + across] - values[a + down]);
  return top + (v - y0) * (bottom - top);
}
