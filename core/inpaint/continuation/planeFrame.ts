import type { Layout } from '../../depth/planes/layout';
import { depthAt } from '../../depth/planes/plane';
import { boundsOf } from '../../raster/bounds';
import type { Ground } from './ground';

/** What lies farther than so many times the depth of the hole is drawn out too much to tell anything. */
const FARTHEST = 0.4;
const NEAREST = 3;
/** What is nearer than its plane by so much does not belong to it. */
const BEFORE = 0.02;
/** Around the hole so much of a plane is looked at, px of the frame. */
const AROUND = 200;
/**
 * A plane is worth it from so many px of the hole and such a share of it on, and as long as its frame holds no more px than
 * there is room for.
 */
const LEAST = 150;
const LEAST_SHARE = 0.01;
const MOST = 1.6e7;

/** A plane of a ground seen face on, at the scale that it has in the middle of the hole. */
export interface PlaneFrame {
  readonly ground: Ground;
  /** Where a place of the picture lies in the frame, px; undefined where it lies too far off. */
  readonly place: (
    x: number,
    y: number,
  ) => { readonly x: number; readonly y: number; readonly scale: number } | undefined;
}

/**
 * A plane of a ground face on: over its depth, places of a plane change as on the plane itself, but for a change that
 * keeps straight lines parallel. Only what lies on the plane has a part.
 * Source: Huang, Kang, Ahuja and Kopf, "Image completion using planar structure guidance", ACM TOG 33(4), 2014; for
 * depth in place of vanishing points.
 * @param depth of the ground, 0 infinitely far to 1
 * @returns undefined where hardly any of the hole lies on it, or it would be too large
 */
export function planeFrame(ground: Ground, depth: Float32Array, layout: Layout, n: number): PlaneFrame | undefined {
  const { width, height, colours, hole, known, from } = ground;
  const { labels } = layout;
  const plane = layout.planes[n];
  const within = boundsOf(width, height, (i) => hole[i] === 1 && labels[i] === n);
  if (!within) return undefined;
  let [mx, my, many] = [0, 0, 0];
  for (let y = within.top; y < within.bottom; y++)
    for (let x = within.left; x < within.right; x++) {
      if (!hole[y * width + x] || labels[y * width + x] !== n) continue;
      mx += x;
      my += y;
      many++;
    }
  if (many < LEAST || many < LEAST_SHARE * hole.reduce((n, v) => n + v, 0)) return undefined;
  mx = Math.round(mx / many);
  my = Math.round(my / many);
  const middle = depthAt(plane, mx, my);
  // Infinitely far, or seen edge on: as it is.
  const flat = middle < 0.01;
  const ax = flat ? 0 : plane.x / middle;
  const ay = flat ? 0 : plane.y / middle;
  const place = (x: number, y: number): { x: number; y: number; scale: number } | undefined => {
    const scale = 1 + ax * (x - mx) + ay * (y - my);
    if (scale < FARTHEST || scale > NEAREST) return undefined;
    return { x: (x - mx) / scale - left, y: (y - my) / scale - top, scale };
  };
  let left = 0;
  let top = 0;
  let [l, t, r, b] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let y = within.top; y < within.bottom; y++)
    for (let x = within.left; x < within.right; x++) {
      if (!hole[y * width + x] || labels[y * width + x] !== n) continue;
      const p = place(x, y);
      if (!p) continue;
      l = Math.min(l, p.x);
      r = Math.max(r, p.x);
      t = Math.min(t, p.y);
      b = Math.max(b, p.y);
    }
  if (!(r >= l)) return undefined;
  left = Math.floor(l) - AROUND;
  top = Math.floor(t) - AROUND;
  const w = Math.ceil(r) + AROUND - left;
  const h = Math.ceil(b) + AROUND - top;
  if (w * h > MOST) return undefined;
  const framed: Ground = {
    width: w,
    height: h,
    colours: new Float32Array(w * h * 3),
    known: new Uint8Array(w * h),
    from: new Uint8Array(w * h),
    hole: new Uint8Array(w * h),
  };
  for (let v = 0, i = 0; v < h; v++)
    for (let u = 0; u < w; u++, i++) {
      const scale = 1 / (1 - ax * (u + left) - ay * (v + top));
      if (!(scale >= FARTHEST && scale <= NEAREST)) continue;
      const x = mx + (u + left) * scale;
      const y = my + (v + top) * scale;
      const nx = Math.round(x);
      const ny = Math.round(y);
      if (nx < 0 || ny < 0 || nx >= width || ny >= height) continue;
      const j = ny * width + nx;
      if (labels[j] !== n) continue;
      if (hole[j]) {
        framed.hole[i] = 1;
        continue;
      }
      if (!known[j] || depth[j] > depthAt(plane, nx, ny) + BEFORE) continue;
      framed.known[i] = 1;
      framed.from[i] = from[j];
      const x0 = Math.min(width - 2, Math.max(0, Math.floor(x)));
      const y0 = Math.min(height - 2, Math.max(0, Math.floor(y)));
      const fx = Math.min(1, Math.max(0, x - x0));
      const fy = Math.min(1, Math.max(0, y - y0));
      const k = y0 * width + x0;
      const sure = known[k] && known[k + 1] && known[k + width] && known[k + width + 1];
      for (let c = 0; c < 3; c++)
        framed.colours[i * 3 + c] = sure
          ? (colours[k * 3 + c] * (1 - fx) + colours[k * 3 + 3 + c] * fx) * (1 - fy) +
            (colours[(k + width) * 3 + c] * (1 - fx) + colours[(k + width) * 3 + 3 + c] * fx) * fy
          : colours[j * 3 + c];
    }
  return { ground: framed, place };
}
