// The mesh of a surface (mesh.ts) where it is not planar: quad by quad, joined or torn.

import { clear, deep, front, isClear, ixs, iys, place, places, px, py, rank, SKEW, SLOTS, xs, ys } from './meshCorners';
import { fourQuads } from './meshFour';
import { corner, fourCorners } from './meshTorn';
import {
  CLOSEST, targetWidth, firstRow, endRow, m00, m01, m02, m10, m11, m12, m20,
  m21, m22, e0, e1, e2, w0, w1, mayBeClear, put,
} from './meshTarget';
import { triangle } from './meshTriangle';

/** Side of what is drawn quad by quad, px. */
export const QUARTER: i32 = 4;

/** A byte a pixel, not 0 at edges; 0: there are none. And the raster's width. */
let edges: usize = 0, rasterWidth: i32 = 0;

export function heedEdges(marks: usize, width: i32): void { edges = marks; rasterWidth = width; }

/** A cell or a quarter of one quad by quad. @param side of it, px */
export function quads(
  depth: usize, pixels: usize, bytes: i32, width: i32, height: i32, x: i32, y: i32, side: i32, tear: i32, goOn: bool,
): void {
  const nx = places(xs, ixs, x, side, width, goOn), ny = places(ys, iys, y, side, height, goOn);
  // Away from the border pixel lies beside pixel.
  const inner = x > 0 && x + side < width - 4;
  // Four corners are reckoned at once: what fills the last four up are repetitions.
  for (let k = nx; k & 3; k++) place(xs, ixs, k, load<f32>(xs + (<usize>(nx - 1) << 2)), load<i32>(ixs + (<usize>(nx - 1) << 2)));
  for (let l = 0; l < ny; l++) {
    const gy = load<f32>(ys + (<usize>l << 2));
    const line = load<i32>(iys + (<usize>l << 2)) * width;
    const rx = f32x4.splat(m01 * gy + m02), ry = f32x4.splat(m11 * gy + m12), rz = f32x4.splat(m21 * gy + m22);
    for (let k = 0; k < nx; k += 4) {
      const slot = <usize>(l * SLOTS + k) << 2;
      const gx = v128.load(xs + (<usize>k << 2));
      const i = i32x4.add(i32x4.splat(line), v128.load(ixs + (<usize>k << 2)));
      const i0 = <usize>i32x4.extract_lane(i, 0);
      const i1 = <usize>i32x4.extract_lane(i, 1);
      const i2 = <usize>i32x4.extract_lane(i, 2);
      const i3 = <usize>i32x4.extract_lane(i, 3);
      let d: v128;
      if (inner) d = i32x4.extend_low_i16x8_u(v128.load64_zero(depth + (i0 << 1)));
      else {
        d = i32x4.splat(<i32>load<u16>(depth + (i0 << 1)));
        d = i32x4.replace_lane(d, 1, <i32>load<u16>(depth + (i1 << 1)));
        d = i32x4.replace_lane(d, 2, <i32>load<u16>(depth + (i2 << 1)));
        d = i32x4.replace_lane(d, 3, <i32>load<u16>(depth + (i3 << 1)));
      }
      const w = f32x4.add(f32x4.splat(w0), f32x4.mul(f32x4.splat(w1), f32x4.convert_i32x4_u(d)));
      const z = f32x4.sub(f32x4.add(f32x4.mul(f32x4.splat(m20), gx), rz), f32x4.mul(w, f32x4.splat(e2)));
      const inverse = f32x4.div(f32x4.splat(1), z);
      v128.store(deep + slot, d);
      v128.store(front + slot, z);
      v128.store(px + slot,
        f32x4.mul(f32x4.sub(f32x4.add(f32x4.mul(f32x4.splat(m00), gx), rx), f32x4.mul(w, f32x4.splat(e0))), inverse));
      v128.store(py + slot,
        f32x4.mul(f32x4.sub(f32x4.add(f32x4.mul(f32x4.splat(m10), gx), ry), f32x4.mul(w, f32x4.splat(e1))), inverse));
      v128.store(rank + slot, f32x4.max(f32x4.mul(w, inverse), f32x4.splat(0)));
      if (pixels != 0) {
        store<i32>(clear + slot, isClear(pixels, bytes, i0));
        store<i32>(clear + slot + 4, isClear(pixels, bytes, i1));
        store<i32>(clear + slot + 8, isClear(pixels, bytes, i2));
        store<i32>(clear + slot + 12, isClear(pixels, bytes, i3));
      }
    }
  }
  for (let l = 0; l < ny - 1; l++) {
    const beyondRow = load<f32>(ys + (<usize>l << 2)) < -1 || load<f32>(ys + (<usize>l << 2) + 4) > <f32>height;
    const aboveRow = <usize>(l * SLOTS) << 2;
    for (let k = 0; k < nx - 1; k += 4) {
      const valid = min(nx - 1 - k, 4);
      const rest = beyondRow ? (1 << valid) - 1 : fourQuads(aboveRow + (<usize>k << 2), k, l, valid, tear, <f32>width);
      for (let n = 0; n < valid; n++) {
        if (!(rest & (1 << n))) continue;
        const x = load<f32>(xs + (<usize>(k + n) << 2)), next = load<f32>(xs + (<usize>(k + n) << 2) + 4);
        quad(l * SLOTS + k + n, k + n, l, tear, beyondRow || x < -1 || next > <f32>width);
      }
    }
  }
}

/** Which corners of a torn quad own half a pixel, a bit each: where a far one is an edge, the near ones go on as its strip. */
function ownCorners(k: i32, l: i32, da: i32, db: i32, dc: i32, dd: i32, half: i32): i32 {
  const x0 = load<i32>(ixs + (<usize>k << 2)), x1 = load<i32>(ixs + (<usize>k << 2) + 4);
  const above = edges + <usize>(load<i32>(iys + (<usize>l << 2)) * rasterWidth);
  const below = edges + <usize>(load<i32>(iys + (<usize>l << 2) + 4) * rasterWidth);
  const far = (da <= half ? 1 : 0) | (db <= half ? 2 : 0) | (dc <= half ? 4 : 0) | (dd <= half ? 8 : 0);
  const marked = (load<u8>(above + x0) ? 1 : 0) | (load<u8>(above + x1) ? 2 : 0) |
    (load<u8>(below + x0) ? 4 : 0) | (load<u8>(below + x1) ? 8 : 0);
  return far & marked ? far : 15;
}

/** One quad of the mesh: joined, or torn. Its corners: a b above, c d below. */
function quad(slot: i32, k: i32, l: i32, tear: i32, beyond: bool): void {
  const a = <usize>slot << 2, b = a + 4, c = a + (<usize>SLOTS << 2), d = c + 4;
  if (mayBeClear && load<i32>(clear + a) & load<i32>(clear + b) & load<i32>(clear + c) & load<i32>(clear + d)) return;
  if (min(min(load<f32>(front + a), load<f32>(front + b)), min(load<f32>(front + c), load<f32>(front + d))) < CLOSEST) return;
  const da = load<i32>(deep + a), db = load<i32>(deep + b), dc = load<i32>(deep + c), dd = load<i32>(deep + d);
  const farthest = min(min(da, db), min(dc, dd)), nearest = max(max(da, db), max(dc, dd));
  const ax = load<f32>(px + a), ay = load<f32>(py + a), bx = load<f32>(px + b), by = load<f32>(py + b);
  const cx = load<f32>(px + c), cy = load<f32>(py + c), dx = load<f32>(px + d), dy = load<f32>(py + d);
  const left = min(min(ax, bx), min(cx, dx)), right = max(max(ax, bx), max(cx, dx));
  const above = min(min(ay, by), min(cy, dy)), below = max(max(ay, by), max(cy, dy));
  const torn = nearest - farthest > tear;
  const room: f32 = torn ? 1 : 0;
  if (right < -room || left > <f32>(targetWidth - 1) + room) return;
  if (below < <f32>firstRow - room || above > <f32>(endRow - 1) + room) return;
  const x0 = load<f32>(xs + (<usize>k << 2)), x1 = load<f32>(xs + (<usize>k << 2) + 4);
  const y0 = load<f32>(ys + (<usize>l << 2)), y1 = load<f32>(ys + (<usize>l << 2) + 4);
  if (!torn) {
    // What lies beyond the border ranks behind everything else.
    const f: f32 = beyond ? 0.1 : 1, o: f32 = beyond ? -3 : 0;
    if (!beyond && (ceil(left) > right || ceil(above) > below)) return;
    const sx = dx - bx - cx + ax, sy = dy - by - cy + ay;
    if (!beyond && abs(sx) + abs(sy) < SKEW) {
      const ex = bx - ax, ey = by - ay, fx = cx - ax, fy = cy - ay;
      const area = ex * fy - ey * fx;
      if (area <= 1e-6) return;
      const inverse: f32 = 1 / area;
      const r = load<f32>(rank + a), rs = load<f32>(rank + b) - r, rt = load<f32>(rank + c) - r;
      const s0 = max(<i32>ceil(left), 0), s1 = min(<i32>floor(right), targetWidth - 1);
      const t0 = max(<i32>ceil(above), firstRow), t1 = min(<i32>floor(below), endRow - 1);
      // As much larger as it may stray, so that no crack opens.
      const least: f32 = -SKEW, most: f32 = 1 + SKEW;
      for (let t = t0; t <= t1; t++) {
        for (let s = s0; s <= s1; s++) {
          const px = <f32>s - ax, py = <f32>t - ay;
          const i = (px * fy - py * fx) * inverse, j = (py * ex - px * ey) * inverse;
          if (i < least || i > most || j < least || j > most) continue;
          put(s, t, x0 + i * (x1 - x0), y0 + j * (y1 - y0), r + i * rs + j * rt);
        }
      }
      return;
    }
    const ra = o + f * load<f32>(rank + a);
    const rb = o + f * load<f32>(rank + b);
    const rc = o + f * load<f32>(rank + c);
    const rd = o + f * load<f32>(rank + d);
    triangle(ax, ay, bx, by, cx, cy, x0, y0, x1, y0, x0, y1, ra, rb, rc);
    triangle(bx, by, dx, dy, cx, cy, x1, y0, x1, y1, x0, y1, rb, rd, rc);
    return;
  }
  if (!beyond) {
    const ab = abs(da - db) > tear, cd = abs(dc - dd) > tear, ac = abs(da - dc) > tear, bd = abs(db - dd) > tear;
    const which = edges ? ownCorners(k, l, da, db, dc, dd, (nearest + farthest) >> 1) : 15;
    const left = fourCorners(a, c, x0, y0, x1, y1, ab, ac, bd, cd, which);
    if (left & 1) corner(a, x0, y0, (x1 - x0) * 0.5, (y1 - y0) * 0.5, ab, ac);
    if (left & 2) corner(b, x1, y0, (x0 - x1) * 0.5, (y1 - y0) * 0.5, ab, bd);
    if (left & 4) corner(c, x0, y1, (x1 - x0) * 0.5, (y0 - y1) * 0.5, cd, ac);
    if (left & 8) corner(d, x1, y1, (x0 - x1) * 0.5, (y0 - y1) * 0.5, cd, bd);
  }
  // Folded, it opens nothing.
  if ((bx - ax) * (cy - ay) - (by - ay) * (cx - ax) <= 1e-7 && (dx - bx) * (cy - by) - (dy - by) * (cx - bx) <= 1e-7) return;
  // What the tear opens shows its farther side: near corners take the place of the far corner beside, below or across.
  const half = (nearest + farthest) >> 1;
  const fa = da <= half, fb = db <= half, fc = dc <= half, fd = dd <= half;
  const ua = fa ? x0 : fb ? x1 : fc ? x0 : x1, va = fa ? y0 : fb ? y0 : y1;
  const ub = fb ? x1 : fa ? x0 : fd ? x1 : x0, vb = fb ? y0 : fa ? y0 : y1;
  const uc = fc ? x0 : fd ? x1 : fa ? x0 : x1, vc = fc ? y1 : fd ? y1 : y0;
  const ud = fd ? x1 : fc ? x0 : fb ? x1 : x0, vd = fd ? y1 : fc ? y1 : y0;
  const o: f32 = beyond ? -3 : -1;
  const least = min(min(load<f32>(rank + a), load<f32>(rank + b)), min(load<f32>(rank + c), load<f32>(rank + d)));
  const r = o + 0.1 * min<f32>(least, 9);
  triangle(ax, ay, bx, by, cx, cy, ua, va, ub, vb, uc, vc, r, r, r);
  triangle(bx, by, dx, dy, cx, cy, ub, vb, ud, vd, uc, vc, r, r, r);
}
