// The mesh of a surface (mesh.ts) where it is not planar: quad by quad, joined or torn.

import { from, to, limit, beginRow } from './meshSpan';
import {
  CLOSEST, targetWidth, firstRow, endRow, m00, m01, m02, m10, m11, m12, m20,
  m21, m22, e0, e1, e2, w0, w1, mayBeClear, beyondPx, put, putAt,
} from './meshTarget';

/** Side of what is drawn quad by quad, px. */
export const QUARTER: i32 = 4;
/** A quad that strays less from a parallelogram is drawn as one, px. */
const SKEW: f32 = 0.02;

// A quarter's corners, at most 4 + 1 and two beyond each border: where they lie in the raster and in the target.
const SLOTS: i32 = 12;
const xs = memory.data(64), ixs = memory.data(64), ys = memory.data(64), iys = memory.data(64);
const px = memory.data(576), py = memory.data(576), rank = memory.data(576), front = memory.data(576);
const deep = memory.data(576), clear = memory.data(576);

/** Where corners lie along one side of a quarter: its pixels, half a pixel more at the border, and far beyond it. */
function places(at: usize, index: usize, start: i32, size: i32, goOn: bool): i32 {
  let n = 0;
  if (start == 0) {
    if (goOn) n = place(at, index, n, -beyondPx, 0);
    n = place(at, index, n, -0.5, 0);
  }
  const end = min(start + QUARTER, size - 1);
  for (let k = start; k <= end; k++) n = place(at, index, n, <f32>k, k);
  if (start + QUARTER >= size) {
    n = place(at, index, n, <f32>(size - 1) + 0.5, size - 1);
    if (goOn) n = place(at, index, n, <f32>(size - 1) + beyondPx, size - 1);
  }
  return n;
}

// @ts-ignore: decorator
@inline
function place(at: usize, index: usize, n: i32, x: f32, k: i32): i32 {
  store<f32>(at + (<usize>n << 2), x);
  store<i32>(index + (<usize>n << 2), k);
  return n + 1;
}

// @ts-ignore: decorator
@inline
function isClear(pixels: usize, bytes: i32, i: usize): i32 {
  return (bytes == 8 ? <i32>load<u16>(pixels + (i << 3) + 6) : <i32>load<u8>(pixels + (i << 2) + 3)) == 0 ? 1 : 0;
}

/** A quarter of a cell quad by quad. */
export function quads(
  depth: usize, pixels: usize, bytes: i32, width: i32, height: i32, x: i32, y: i32, tear: i32, goOn: bool,
): void {
  const nx = places(xs, ixs, x, width, goOn), ny = places(ys, iys, y, height, goOn);
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
      let d = i32x4.splat(<i32>load<u16>(depth + (i0 << 1)));
      d = i32x4.replace_lane(d, 1, <i32>load<u16>(depth + (i1 << 1)));
      d = i32x4.replace_lane(d, 2, <i32>load<u16>(depth + (i2 << 1)));
      d = i32x4.replace_lane(d, 3, <i32>load<u16>(depth + (i3 << 1)));
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

/**
 * Draws of four quads side by side those that are joined, nearly parallelograms, and hold one target pixel at most. Returns
 * which are left,
 * a bit each.
 */
// @ts-ignore: decorator
@inline
function fourQuads(a: usize, k: i32, l: i32, valid: i32, tear: i32, width: f32): i32 {
  const c = a + (<usize>SLOTS << 2);
  const da = v128.load(deep + a), db = v128.load(deep + a + 4), dc = v128.load(deep + c), dd = v128.load(deep + c + 4);
  const step = i32x4.sub(
    i32x4.max_u(i32x4.max_u(da, db), i32x4.max_u(dc, dd)), i32x4.min_u(i32x4.min_u(da, db), i32x4.min_u(dc, dd)));
  const ax = v128.load(px + a), bx = v128.load(px + a + 4), cx = v128.load(px + c), dx = v128.load(px + c + 4);
  const ay = v128.load(py + a), by = v128.load(py + a + 4), cy = v128.load(py + c), dy = v128.load(py + c + 4);
  const x = v128.load(xs + (<usize>k << 2)), next = v128.load(xs + (<usize>k << 2) + 4);
  const torn = v128.or(i32x4.gt_s(step, i32x4.splat(tear)), v128.or(f32x4.lt(x, f32x4.splat(-1)), f32x4.gt(next, f32x4.splat(width))));
  const one = f32x4.splat(1);
  const s = f32x4.ceil(f32x4.min(f32x4.min(ax, bx), f32x4.min(cx, dx))), right = f32x4.max(f32x4.max(ax, bx), f32x4.max(cx, dx));
  const t = f32x4.ceil(f32x4.min(f32x4.min(ay, by), f32x4.min(cy, dy))), below = f32x4.max(f32x4.max(ay, by), f32x4.max(cy, dy));
  const holds = v128.and(f32x4.le(s, right), f32x4.le(t, below));
  // What lies exactly on the right or lower side is the next one's.
  const single = v128.and(f32x4.ge(f32x4.add(s, one), right), f32x4.ge(f32x4.add(t, one), below));
  const skew = f32x4.add(
    f32x4.abs(f32x4.add(f32x4.sub(f32x4.sub(dx, bx), cx), ax)), f32x4.abs(f32x4.add(f32x4.sub(f32x4.sub(dy, by), cy), ay)));
  const inFront = f32x4.ge(f32x4.min(
    f32x4.min(v128.load(front + a), v128.load(front + a + 4)), f32x4.min(v128.load(front + c), v128.load(front + c + 4))), f32x4.splat(CLOSEST));
  const simple = v128.and(v128.and(single, f32x4.lt(skew, f32x4.splat(SKEW))), v128.and(inFront, v128.not(torn)));
  const mine = (1 << valid) - 1;
  const rest = i32x4.bitmask(v128.or(torn, v128.andnot(holds, simple))) & mine;
  const inside = v128.and(
    v128.and(f32x4.ge(s, f32x4.splat(0)), f32x4.le(s, f32x4.splat(<f32>(targetWidth - 1)))),
    v128.and(f32x4.ge(t, f32x4.splat(<f32>firstRow)), f32x4.le(t, f32x4.splat(<f32>(endRow - 1)))));
  let draw = v128.and(v128.and(simple, holds), inside);
  if (!(i32x4.bitmask(draw) & mine)) return rest;
  const ex = f32x4.sub(bx, ax), ey = f32x4.sub(by, ay), fx = f32x4.sub(cx, ax), fy = f32x4.sub(cy, ay);
  const area = f32x4.sub(f32x4.mul(ex, fy), f32x4.mul(ey, fx));
  const inverse = f32x4.div(one, area);
  const ox = f32x4.sub(s, ax), oy = f32x4.sub(t, ay);
  const i = f32x4.mul(f32x4.sub(f32x4.mul(ox, fy), f32x4.mul(oy, fx)), inverse);
  const j = f32x4.mul(f32x4.sub(f32x4.mul(oy, ex), f32x4.mul(ox, ey)), inverse);
  const least = f32x4.splat(-SKEW), most = f32x4.splat(1 + SKEW);
  draw = v128.and(draw, v128.and(
    f32x4.gt(area, f32x4.splat(1e-6)),
    v128.and(v128.and(f32x4.ge(i, least), f32x4.le(i, most)), v128.and(f32x4.ge(j, least), f32x4.le(j, most)))));
  if (mayBeClear) {
    const none = v128.and(
      v128.and(v128.load(clear + a), v128.load(clear + a + 4)), v128.and(v128.load(clear + c), v128.load(clear + c + 4)));
    draw = v128.andnot(draw, i32x4.ne(none, i32x4.splat(0)));
  }
  const drawn = i32x4.bitmask(draw) & mine;
  if (!drawn) return rest;
  const y0 = load<f32>(ys + (<usize>l << 2));
  const u = f32x4.add(x, f32x4.mul(i, f32x4.sub(next, x)));
  const v = f32x4.add(f32x4.splat(y0), f32x4.mul(j, f32x4.splat(load<f32>(ys + (<usize>l << 2) + 4) - y0)));
  const ra = v128.load(rank + a);
  const r = f32x4.add(ra, f32x4.add(
    f32x4.mul(i, f32x4.sub(v128.load(rank + a + 4), ra)), f32x4.mul(j, f32x4.sub(v128.load(rank + c), ra))));
  const at = i32x4.trunc_sat_f32x4_s(f32x4.add(f32x4.mul(f32x4.sub(t, f32x4.splat(<f32>firstRow)), f32x4.splat(<f32>targetWidth)), s));
  if (drawn & 1) putAt(i32x4.extract_lane(at, 0), f32x4.extract_lane(u, 0), f32x4.extract_lane(v, 0), f32x4.extract_lane(r, 0));
  if (drawn & 2) putAt(i32x4.extract_lane(at, 1), f32x4.extract_lane(u, 1), f32x4.extract_lane(v, 1), f32x4.extract_lane(r, 1));
  if (drawn & 4) putAt(i32x4.extract_lane(at, 2), f32x4.extract_lane(u, 2), f32x4.extract_lane(v, 2), f32x4.extract_lane(r, 2));
  if (drawn & 8) putAt(i32x4.extract_lane(at, 3), f32x4.extract_lane(u, 3), f32x4.extract_lane(v, 3), f32x4.extract_lane(r, 3));
  return rest;
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
  if (right < -room || left > <f32>(targetWidth - 1) + room || below < <f32>firstRow - room || above > <f32>(endRow - 1) + room) return;
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
    corner(a, x0, y0, (x1 - x0) * 0.5, (y1 - y0) * 0.5, ab, ac);
    corner(b, x1, y0, (x0 - x1) * 0.5, (y1 - y0) * 0.5, ab, bd);
    corner(c, x0, y1, (x1 - x0) * 0.5, (y0 - y1) * 0.5, cd, ac);
    corner(d, x1, y1, (x0 - x1) * 0.5, (y0 - y1) * 0.5, cd, bd);
  }
  // What the tear opens shows its farther side: near corners take the place of the far corner beside, below or across.
  const half = (nearest + farthest) >> 1;
  const fa = da <= half, fb = db <= half, fc = dc <= half, fd = dd <= half;
  const ua = fa ? x0 : fb ? x1 : fc ? x0 : x1, va = fa ? y0 : fb ? y0 : y1;
  const ub = fb ? x1 : fa ? x0 : fd ? x1 : x0, vb = fb ? y0 : fa ? y0 : y1;
  const uc = fc ? x0 : fd ? x1 : fa ? x0 : x1, vc = fc ? y1 : fd ? y1 : y0;
  const ud = fd ? x1 : fc ? x0 : fb ? x1 : x0, vd = fd ? y1 : fc ? y1 : y0;
  const o: f32 = beyond ? -3 : -1;
  const r = o + 0.1 * min<f32>(min(min(load<f32>(rank + a), load<f32>(rank + b)), min(load<f32>(rank + c), load<f32>(rank + d))), 9);
  triangle(ax, ay, bx, by, cx, cy, ua, va, ub, vb, uc, vc, r, r, r);
  triangle(bx, by, dx, dy, cx, cy, ub, vb, ud, vd, uc, vc, r, r, r);
}

/** At a tear every corner owns half a pixel at its own depth: nothing is sampled across it, sideways or downwards. */
function corner(s: usize, x: f32, y: f32, hx: f32, hy: f32, tornX: bool, tornY: bool): void {
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

/** One triangle; what is folded over shows nothing. */
function triangle(ax: f32, ay: f32, bx: f32, by: f32, cx: f32, cy: f32,
  ua: f32, va: f32, ub: f32, vb: f32, uc: f32, vc: f32, ra: f32, rb: f32, rc: f32): void {
  const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
  if (area <= 1e-7) return;
  const s0 = max(<i32>ceil(max<f32>(min(min(ax, bx), cx), -1)), 0);
  const s1 = min(<i32>floor(min<f32>(max(max(ax, bx), cx), 1e6)), targetWidth - 1);
  const t0 = max(<i32>ceil(max<f32>(min(min(ay, by), cy), -1)), firstRow);
  const t1 = min(<i32>floor(min<f32>(max(max(ay, by), cy), 1e6)), endRow - 1);
  if (s0 > s1 || t0 > t1) return;
  const inverse: f32 = 1 / area;
  const least: f32 = -1e-4, most: f32 = 1 - least;
  // Shares of b and c, and how they change along a row.
  const bx1 = (cy - ay) * inverse, cx1 = (ay - by) * inverse, by1 = (ax - cx) * inverse, cy1 = (bx - ax) * inverse;
  if (s1 - s0 < 3) {
    for (let t = t0; t <= t1; t++) {
      for (let s = s0; s <= s1; s++) {
        const x = <f32>s - ax, y = <f32>t - ay;
        const b = x * bx1 + y * by1, c = x * cx1 + y * cy1;
        if (b < least || c < least || b + c > most) continue;
        put(s, t, ua + b * (ub - ua) + c * (uc - ua), va + b * (vb - va) + c * (vc - va), ra + b * (rb - ra) + c * (rc - ra));
      }
    }
    return;
  }
  // Long ones: where a row enters and leaves.
  for (let t = t0; t <= t1; t++) {
    const y = <f32>t - ay;
    beginRow(<f32>s0 - ax, <f32>s1 - ax);
    limit(bx1, y * by1 - least);
    limit(cx1, y * cy1 - least);
    limit(-bx1 - cx1, most - y * (by1 + cy1));
    const end = min(<i32>floor(to + ax), s1);
    for (let s = max(<i32>ceil(from + ax), s0); s <= end; s++) {
      const x = <f32>s - ax;
      const b = x * bx1 + y * by1, c = x * cx1 + y * cy1;
      put(s, t, ua + b * (ub - ua) + c * (uc - ua), va + b * (vb - va) + c * (vc - va), ra + b * (rb - ra) + c * (rc - ra));
    }
  }
}
