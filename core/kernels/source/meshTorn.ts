// Corners of torn quads (meshQuads.ts).

import { front, px, py, rank } from './meshCorners';
import { putFour, seenAt } from './meshFour';
import { targetWidth, firstRow, endRow, m00, m01, m10, m11, m20, m21, put } from './meshTarget';

/** Two floats and the two a row below them. */
// @ts-ignore: decorator
@inline
function around(at: usize, below: usize): v128 {
  return v128.load64_lane(below, v128.load64_zero(at), 1);
}

// @ts-ignore: decorator
@inline
function mask(a: bool, b: bool, c: bool, d: bool): v128 {
  return i32x4.ne(i32x4(a ? 1 : 0, b ? 1 : 0, c ? 1 : 0, d ? 1 : 0), i32x4.splat(0));
}

/**
 * The corners of a torn quad (see below), all four at once, as far as each holds one target pixel at most. Returns which are
 * left, a bit each. which: only these are drawn.
 */
// @ts-ignore: decorator
@inline
export function fourCorners(
  a: usize, c: usize, x0: f32, y0: f32, x1: f32, y1: f32, ab: bool, ac: bool, bd: bool, cd: bool, which: i32,
): i32 {
  const one = f32x4.splat(1), zero = f32x4.splat(0);
  const inverse = f32x4.div(one, around(front + a, front + c));
  const cx = around(px + a, px + c), cy = around(py + a, py + c);
  const ax = f32x4.mul(f32x4.sub(f32x4.splat(m00), f32x4.mul(cx, f32x4.splat(m20))), inverse);
  const ay = f32x4.mul(f32x4.sub(f32x4.splat(m10), f32x4.mul(cy, f32x4.splat(m20))), inverse);
  const bx = f32x4.mul(f32x4.sub(f32x4.splat(m01), f32x4.mul(cx, f32x4.splat(m21))), inverse);
  const by = f32x4.mul(f32x4.sub(f32x4.splat(m11), f32x4.mul(cy, f32x4.splat(m21))), inverse);
  const area = f32x4.sub(f32x4.mul(ax, by), f32x4.mul(ay, bx));
  const w = (x1 - x0) * 0.5, h = (y1 - y0) * 0.5;
  const hx = f32x4(w, -w, w, -w), hy = f32x4(h, h, -h, -h);
  const axh = f32x4.mul(ax, hx), bxh = f32x4.mul(bx, hy), ayh = f32x4.mul(ay, hx), byh = f32x4.mul(by, hy);
  const s = f32x4.ceil(f32x4.add(cx, f32x4.add(f32x4.min(axh, zero), f32x4.min(bxh, zero))));
  const t = f32x4.ceil(f32x4.add(cy, f32x4.add(f32x4.min(ayh, zero), f32x4.min(byh, zero))));
  const right = f32x4.add(cx, f32x4.add(f32x4.max(axh, zero), f32x4.max(bxh, zero)));
  const below = f32x4.add(cy, f32x4.add(f32x4.max(ayh, zero), f32x4.max(byh, zero)));
  const many = v128.or(f32x4.le(f32x4.add(s, one), right), f32x4.le(f32x4.add(t, one), below));
  const ox = f32x4.sub(s, cx), oy = f32x4.sub(t, cy);
  const over = f32x4.div(one, area);
  const i = f32x4.mul(f32x4.sub(f32x4.mul(ox, by), f32x4.mul(oy, bx)), over);
  const j = f32x4.mul(f32x4.sub(f32x4.mul(oy, ax), f32x4.mul(ox, ay)), over);
  const inside = v128.and(
    v128.and(f32x4.ge(i, f32x4.min(hx, zero)), f32x4.le(i, f32x4.max(hx, zero))),
    v128.and(f32x4.ge(j, f32x4.min(hy, zero)), f32x4.le(j, f32x4.max(hy, zero))));
  const drawn = which &
    i32x4.bitmask(v128.andnot(v128.and(v128.and(inside, seenAt(s, t)), f32x4.gt(area, f32x4.splat(1e-6))), many));
  if (drawn) {
    const x = f32x4(x0, x1, x0, x1), y = f32x4(y0, y0, y1, y1);
    const u = v128.bitselect(x, f32x4.add(x, i), mask(ab, ab, cd, cd));
    const v = v128.bitselect(y, f32x4.add(y, j), mask(ac, bd, ac, bd));
    const r = around(rank + a, rank + c);
    putFour(drawn, s, t, u, v, r);
  }
  return which & i32x4.bitmask(many);
}

/** At a tear every corner owns half a pixel at its own depth: nothing is sampled across it, sideways or downwards. */
export function corner(s: usize, x: f32, y: f32, hx: f32, hy: f32, tornX: bool, tornY: bool): void {
  const inverse: f32 = 1 / load<f32>(front + s);
  const cx = load<f32>(px + s), cy = load<f32>(py + s), r = load<f32>(rank + s);
  const ax = (m00 - cx * m20) * inverse, ay = (m10 - cy * m20) * inverse;
  const bx = (m01 - cx * m21) * inverse, by = (m11 - cy * m21) * inverse;
  const area = ax * by - ay * bx;
  if (area <= 1e-6) return;
  const qx = cx + ax * hx + bx * hy, qy = cy + ay * hx + by * hy;
  const reachX = abs(ax * hx) + abs(bx * hy), reachY = abs(ay * hx) + abs(by * hy);
  const mx = (cx + qx) * 0.5, my = (cy + qy) * 0.5;
  const t0 = max(<i32>ceil(my - reachY * 0.5), firstRow), t1 = min(<i32>floor(my + reachY * 0.5), endRow - 1);
  const s0 = max(<i32>ceil(mx - reachX * 0.5), 0), s1 = min(<i32>floor(mx + reachX * 0.5), targetWidth - 1);
  const lowI = min<f32>(0, hx), highI = max<f32>(0, hx), lowJ = min<f32>(0, hy), highJ = max<f32>(0, hy);
  for (let t = t0; t <= t1; t++) {
    for (let q = s0; q <= s1; q++) {
      const dx = <f32>q - cx, dy = <f32>t - cy;
      const i = (dx * by - dy * bx) / area, j = (dy * ax - dx * ay) / area;
      if (i < lowI || i > highI || j < lowJ || j > highJ) continue;
      put(q, t, tornX ? x : x + i, tornY ? y : y + j, r);
    }
  }
}
