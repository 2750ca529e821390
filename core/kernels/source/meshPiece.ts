// Planar cells of a surface's mesh (mesh.ts), each in one piece.

import { from, to, limit, beginRow } from './meshSpan';
import {
  CLOSEST, mapX, mapY, mapZ, targetWidth, firstRow, endRow, m00, m01, m02, m10, m11, m12, m20, m21, m22, e0, e1, e2, w0, w1,
} from './meshTarget';

/** Planar cells are drawn larger by this, px, so that no crack opens between neighbours. */
const OVERLAP: f32 = 0.12;

/** A cell as one affine piece, drawn from the place and the slopes at its middle. */
export function piece(cell: usize, x: i32, y: i32, side: i32, width: i32, height: i32): void {
  const lowX: f32 = x == 0 ? -0.5 : 0, lowY: f32 = y == 0 ? -0.5 : 0;
  const highX = x + side >= width ? <f32>(width - 1 - x) + 0.5 : <f32>side;
  const highY = y + side >= height ? <f32>(height - 1 - y) + 0.5 : <f32>side;
  const mx = (lowX + highX) * 0.5, my = (lowY + highY) * 0.5;
  const pb = load<f32>(cell, 4) * w1, pc = load<f32>(cell, 8) * w1;
  const w = w0 + w1 * load<f32>(cell) + pb * mx + pc * my;
  const gx = <f32>x + mx, gy = <f32>y + my;
  const z = m20 * gx + m21 * gy + m22 - w * e2;
  if (z < CLOSEST) return;
  const inverse: f32 = 1 / z;
  const cx = (m00 * gx + m01 * gy + m02 - w * e0) * inverse, cy = (m10 * gx + m11 * gy + m12 - w * e1) * inverse;
  // Slopes of the target place by the raster's, along the plane.
  const zx = m20 - pb * e2, zy = m21 - pc * e2;
  const ax = (m00 - pb * e0 - cx * zx) * inverse, ay = (m10 - pb * e1 - cy * zx) * inverse;
  const bx = (m01 - pc * e0 - cx * zy) * inverse, by = (m11 - pc * e1 - cy * zy) * inverse;
  const area = ax * by - ay * bx;
  if (area <= 1e-6) return;
  const halfX = (highX - lowX) * 0.5, halfY = (highY - lowY) * 0.5;
  // Overlap in raster px: the height of the piece over each of its sides.
  const overX = OVERLAP * sqrt<f32>(bx * bx + by * by) / area, overY = OVERLAP * sqrt<f32>(ax * ax + ay * ay) / area;
  const hx = halfX + overX, hy = halfY + overY;
  const reachY = hx * abs(ay) + hy * abs(by);
  const y0 = max(<i32>ceil(cy - reachY), firstRow), y1 = min(<i32>floor(cy + reachY), endRow - 1);
  if (y0 > y1) return;
  const reachX = hx * abs(ax) + hy * abs(bx);
  if (cx + reachX < 0 || cx - reachX > <f32>(targetWidth - 1)) return;
  const ix = by / area, jx = -ay / area, iy = -bx / area, jy = ax / area;
  const near = w * inverse;
  const nearX = (pb - near * zx) * inverse, nearY = (pc - near * zy) * inverse;
  // Rank by target px.
  const rx = nearX * ix + nearY * jx, ry = nearX * iy + nearY * jy;
  for (let t = y0; t <= y1; t++) {
    const dy = <f32>t - cy;
    beginRow(-cx, <f32>(targetWidth - 1) - cx);
    // i = iy dy + ix dx within -hx to hx, and j alike.
    const i0 = iy * dy, j0 = jy * dy;
    limit(ix, hx + i0); limit(-ix, hx - i0);
    limit(jx, hy + j0); limit(-jx, hy - j0);
    const s0 = <i32>ceil(from + cx), s1 = <i32>floor(to + cx);
    if (s0 > s1) continue;
    const at = <usize>((t - firstRow) * targetWidth + s0) << 2;
    const dx0 = <f32>s0 - cx;
    const step = f32x4(0, 1, 2, 3);
    let u = f32x4.add(f32x4.splat(gx + i0 + ix * dx0), f32x4.mul(step, f32x4.splat(ix)));
    let v = f32x4.add(f32x4.splat(gy + j0 + jx * dx0), f32x4.mul(step, f32x4.splat(jx)));
    let n = f32x4.add(f32x4.splat(near + ry * dy + rx * dx0), f32x4.mul(step, f32x4.splat(rx)));
    const zero = f32x4.splat(0);
    for (let s = 0, left = s1 - s0 + 1; left > 0; s += 16, left -= 4) {
      const o = at + <usize>s;
      const nn = f32x4.max(n, zero);
      const old = v128.load(mapZ + o);
      let win = f32x4.gt(nn, old);
      if (left < 4) win = v128.and(win, i32x4.gt_s(i32x4.splat(left), i32x4(0, 1, 2, 3)));
      if (v128.any_true(win)) {
        v128.store(mapZ + o, v128.bitselect(nn, old, win));
        v128.store(mapX + o, v128.bitselect(u, v128.load(mapX + o), win));
        v128.store(mapY + o, v128.bitselect(v, v128.load(mapY + o), win));
      }
      u = f32x4.add(u, f32x4.splat(ix * 4)); v = f32x4.add(v, f32x4.splat(jx * 4)); n = f32x4.add(n, f32x4.splat(rx * 4));
    }
  }
}
