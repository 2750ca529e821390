import type { DepthMap, Picture8 } from '../../raster/picture';
import { ReliefView, type ReliefPose } from './reliefView';

/** Depth that differs so much within a facet is a jump: the surface is stretched there. */
const JUMP = 0.04;
/** What is stretched is drawn in this colour, and so much of it. */
const STRETCHED = [176, 112, 96] as const;
const TINT = 0.55;

/** A corner of the surface. */
interface Corners {
  readonly x: Float32Array;
  readonly y: Float32Array;
  readonly z: Float32Array;
  readonly across: number;
  readonly down: number;
}

/**
 * A picture as a surface: each pixel as far forward as its depth, joined to its neighbours. Where depth jumps, the
 * surface is stretched, and
 * drawn so.
 * @param map of the picture's size
 * @param step facets are so many px wide: 1 is finest
 * @returns RGBA of the picture's size; alpha 0 where there is no surface
 */
export function renderRelief(
  picture: Pick<Picture8, 'width' | 'height' | 'data'>,
  map: DepthMap,
  pose: ReliefPose,
  step: number,
): Uint8ClampedArray<ArrayBuffer> {
  const { width, height, data } = picture;
  const corners = cornersOf(map, new ReliefView(map, pose), step);
  const out = new Uint8ClampedArray(width * height * 4);
  const nearest = new Float32Array(width * height).fill(-Infinity);
  const colour = [0, 0, 0];
  const span = new Float64Array(2);
  const facet = (a: number, b: number, c: number): void => {
    const { x, y, z } = corners;
    const [ax, ay, bx, by, cx, cy] = [x[a], y[a], x[b], y[b], x[c], y[c]];
    const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
    if (area === 0) return;
    const top = Math.max(0, Math.ceil(Math.min(ay, by, cy) - 0.5));
    const bottom = Math.min(height - 1, Math.floor(Math.max(ay, by, cy) - 0.5));
    // How much of corner b and c a place has grows by so much from px to px; it lies inside while neither is below 0,
    // nor both together above 1.
    const vStep = (cy - ay) / area;
    const wStep = (ay - by) / area;
    const zStep = vStep * (z[b] - z[a]) + wStep * (z[c] - z[a]);
    for (let py = top; py <= bottom; py++) {
      const down = py + 0.5 - ay;
      const v = ((0.5 - ax) * (cy - ay) - down * (cx - ax)) / area;
      const w = ((bx - ax) * down - (by - ay) * (0.5 - ax)) / area;
      span[0] = 0;
      span[1] = width - 1;
      narrow(span, v, vStep);
      narrow(span, w, wStep);
      narrow(span, 1 - v - w, -vStep - wStep);
      const last = Math.floor(span[1] + SEAM);
      let px = Math.ceil(span[0] - SEAM);
      let near = z[a] + v * (z[b] - z[a]) + w * (z[c] - z[a]) + px * zStep;
      for (let i = py * width + px; px <= last; px++, i++, near += zStep) {
        if (near <= nearest[i]) continue;
        nearest[i] = near;
        out[4 * i] = colour[0];
        out[4 * i + 1] = colour[1];
        out[4 * i + 2] = colour[2];
        out[4 * i + 3] = 255;
      }
    }
  };
  const { across, down } = corners;
  for (let v = 0; v + 1 < down; v++)
    for (let u = 0; u + 1 < across; u++) {
      const a = v * across + u;
      const px = Math.min(width - 1, u * step);
      const py = Math.min(height - 1, v * step);
      const tint = jumps(map, px, py, step) ? TINT : 0;
      const from = 4 * (py * width + px);
      for (let c = 0; c < 3; c++) colour[c] = data[from + c] + tint * (STRETCHED[c] - data[from + c]);
      facet(a, a + 1, a + across);
      facet(a + 1, a + across + 1, a + across);
    }
  return out;
}

/** Facets meet without a seam: a px whose middle lies so near to a border belongs to both. */
const SEAM = 1e-6;

/** Narrows a span of px to where `from + px * step` is not below 0. */
function narrow(span: Float64Array, from: number, step: number): void {
  if (step > 0) span[0] = Math.max(span[0], -from / step);
  else if (step < 0) span[1] = Math.min(span[1], -from / step);
  else if (from < 0) span[1] = -1;
}

function cornersOf({ width, height, data }: DepthMap, view: ReliefView, step: number): Corners {
  const across = Math.ceil((width - 1) / step) + 1;
  const down = Math.ceil((height - 1) / step) + 1;
  const [x, y, z] = [0, 1, 2].map(() => new Float32Array(across * down));
  const at = new Float64Array(3);
  for (let v = 0, n = 0; v < down; v++)
    for (let u = 0; u < across; u++, n++) {
      const px = Math.min(width - 1, u * step);
      const py = Math.min(height - 1, v * step);
      view.placeInto(px + 0.5, py + 0.5, data[py * width + px] / 65535, at);
      x[n] = at[0];
      y[n] = at[1];
      z[n] = at[2];
    }
  return { x, y, z, across, down };
}

function jumps({ width, height, data }: DepthMap, x: number, y: number, step: number): boolean {
  const right = Math.min(width - 1, x + step);
  const below = Math.min(height - 1, y + step) * width;
  const row = y * width;
  const [a, b, c, d] = [data[row + x], data[row + right], data[below + x], data[below + right]];
  return Math.max(a, b, c, d) - Math.min(a, b, c, d) > JUMP * 65535;
}
