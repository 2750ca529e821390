// Four joined quads of a surface's mesh side by side (meshQuads.ts), as far as each holds few target pixels.

import { clear, deep, front, px, py, rank, SKEW, SLOTS, xs, ys } from './meshCorners';
import { CLOSEST, targetWidth, firstRow, endRow, mayBeClear, putAt } from './meshTarget';

/**
 * Draws of four quads side by side those that are joined, nearly parallelograms, and hold two by two target pixels at most.
 * Returns which are left, a bit each.
 */
// @ts-ignore: decorator
@inline
export function fourQuads(a: usize, k: i32, l: i32, valid: i32, tear: i32, width: f32): i32 {
  const c = a + (<usize>SLOTS << 2);
  const da = v128.load(deep + a), db = v128.load(deep + a + 4), dc = v128.load(deep + c), dd = v128.load(deep + c + 4);
  const step = i32x4.sub(
    i32x4.max_u(i32x4.max_u(da, db), i32x4.max_u(dc, dd)), i32x4.min_u(i32x4.min_u(da, db), i32x4.min_u(dc, dd)));
  const ax = v128.load(px + a), bx = v128.load(px + a + 4), cx = v128.load(px + c), dx = v128.load(px + c + 4);
  const ay = v128.load(py + a), by = v128.load(py + a + 4), cy = v128.load(py + c), dy = v128.load(py + c + 4);
  const x = v128.load(xs + (<usize>k << 2)), next = v128.load(xs + (<usize>k << 2) + 4);
  const torn = v128.or(
    i32x4.gt_s(step, i32x4.splat(tear)), v128.or(f32x4.lt(x, f32x4.splat(-1)), f32x4.gt(next, f32x4.splat(width))));
  const one = f32x4.splat(1), two = f32x4.splat(2);
  const s = f32x4.ceil(f32x4.min(f32x4.min(ax, bx), f32x4.min(cx, dx))), right = f32x4.max(f32x4.max(ax, bx), f32x4.max(cx, dx));
  const t = f32x4.ceil(f32x4.min(f32x4.min(ay, by), f32x4.min(cy, dy))), below = f32x4.max(f32x4.max(ay, by), f32x4.max(cy, dy));
  const holds = v128.and(f32x4.le(s, right), f32x4.le(t, below));
  // What lies exactly on the right or lower side is the next one's.
  const few = v128.and(f32x4.ge(f32x4.add(s, two), right), f32x4.ge(f32x4.add(t, two), below));
  const skew = f32x4.add(
    f32x4.abs(f32x4.add(f32x4.sub(f32x4.sub(dx, bx), cx), ax)), f32x4.abs(f32x4.add(f32x4.sub(f32x4.sub(dy, by), cy), ay)));
  const inFront = f32x4.ge(f32x4.min(
    f32x4.min(v128.load(front + a), v128.load(front + a + 4)),
    f32x4.min(v128.load(front + c), v128.load(front + c + 4))), f32x4.splat(CLOSEST));
  const joined = v128.and(few, v128.and(inFront, v128.not(torn)));
  const mine = (1 << valid) - 1;
  const rest = i32x4.bitmask(v128.or(torn, v128.andnot(holds, joined))) & mine;
  let none = f32x4.splat(0);
  if (mayBeClear)
    none = i32x4.ne(v128.and(
      v128.and(v128.load(clear + a), v128.load(clear + a + 4)),
      v128.and(v128.load(clear + c), v128.load(clear + c + 4))), i32x4.splat(0));
  const level = f32x4.lt(skew, f32x4.splat(SKEW));
  const bent = v128.andnot(v128.and(joined, holds), v128.or(level, none));
  if (i32x4.bitmask(bent) & mine)
    fourBent(bent, mine, a, c, s, t, right, below, x, next, load<f32>(ys + (<usize>l << 2)), load<f32>(ys + (<usize>l << 2) + 4));
  const ex = f32x4.sub(bx, ax), ey = f32x4.sub(by, ay), fx = f32x4.sub(cx, ax), fy = f32x4.sub(cy, ay);
  const area = f32x4.sub(f32x4.mul(ex, fy), f32x4.mul(ey, fx));
  const draw = v128.andnot(v128.and(v128.and(joined, holds), v128.and(level, f32x4.gt(area, f32x4.splat(1e-6)))), none);
  if (!(i32x4.bitmask(draw) & mine)) return rest;
  const inverse = f32x4.div(one, area);
  const ra = v128.load(rank + a);
  const rb = f32x4.sub(v128.load(rank + a + 4), ra), rc = f32x4.sub(v128.load(rank + c), ra);
  const y0 = load<f32>(ys + (<usize>l << 2)), high = load<f32>(ys + (<usize>l << 2) + 4) - y0;
  const wide = f32x4.sub(next, x);
  const s1 = f32x4.add(s, one), t1 = f32x4.add(t, one);
  const moreX = v128.and(draw, f32x4.lt(s1, right)), moreY = v128.and(draw, f32x4.lt(t1, below));
  places4(draw, mine, s, t, ax, ay, ex, ey, fx, fy, inverse, x, wide, y0, high, ra, rb, rc);
  if (i32x4.bitmask(moreX) & mine) places4(moreX, mine, s1, t, ax, ay, ex, ey, fx, fy, inverse, x, wide, y0, high, ra, rb, rc);
  if (i32x4.bitmask(moreY) & mine) {
    places4(moreY, mine, s, t1, ax, ay, ex, ey, fx, fy, inverse, x, wide, y0, high, ra, rb, rc);
    const both = v128.and(moreX, moreY);
    if (i32x4.bitmask(both) & mine) places4(both, mine, s1, t1, ax, ay, ex, ey, fx, fy, inverse, x, wide, y0, high, ra, rb, rc);
  }
  return rest;
}

/** Four joined quads that are no parallelograms, each as two triangles. */
function fourBent(
  bent: v128, mine: i32, a: usize, c: usize, s: v128, t: v128, right: v128, below: v128, x: v128, next: v128, y0: f32, y1: f32,
): void {
  const ax = v128.load(px + a), bx = v128.load(px + a + 4), cx = v128.load(px + c), dx = v128.load(px + c + 4);
  const ay = v128.load(py + a), by = v128.load(py + a + 4), cy = v128.load(py + c), dy = v128.load(py + c + 4);
  const ra = v128.load(rank + a), rb = v128.load(rank + a + 4), rc = v128.load(rank + c), rd = v128.load(rank + c + 4);
  const upper = f32x4.splat(y0), lower = f32x4.splat(y1), none = f32x4.splat(0), high = f32x4.splat(y1 - y0);
  const wide = f32x4.sub(next, x);
  // Upper left: a, and from it to b and to c; lower right: b, and from it to d and to c.
  fourTriangles(bent, mine, s, t, right, below,
    ax, ay, f32x4.sub(bx, ax), f32x4.sub(by, ay), f32x4.sub(cx, ax), f32x4.sub(cy, ay),
    x, wide, none, upper, none, high, ra, f32x4.sub(rb, ra), f32x4.sub(rc, ra));
  fourTriangles(bent, mine, s, t, right, below,
    bx, by, f32x4.sub(dx, bx), f32x4.sub(dy, by), f32x4.sub(cx, bx), f32x4.sub(cy, by),
    next, none, f32x4.neg(wide), upper, high, f32x4.sub(lower, upper), rb, f32x4.sub(rd, rb), f32x4.sub(rc, rb));
}

/** Two by two target pixels at most of four triangles: each from a corner with two sides, and what changes along them. */
// @ts-ignore: decorator
@inline
function fourTriangles(
  wanted: v128, mine: i32, s: v128, t: v128, right: v128, below: v128,
  ax: v128, ay: v128, ex: v128, ey: v128, fx: v128, fy: v128,
  u: v128, ue: v128, uf: v128, v: v128, ve: v128, vf: v128, r: v128, re: v128, rf: v128,
): void {
  const area = f32x4.sub(f32x4.mul(ex, fy), f32x4.mul(ey, fx));
  const draw = v128.and(wanted, f32x4.gt(area, f32x4.splat(1e-7)));
  if (!(i32x4.bitmask(draw) & mine)) return;
  const inverse = f32x4.div(f32x4.splat(1), area);
  const one = f32x4.splat(1), least = f32x4.splat(-1e-4), most = f32x4.splat(1.0001);
  for (let n = 0; n < 4; n++) {
    const tx = n & 1 ? f32x4.add(s, one) : s, ty = n & 2 ? f32x4.add(t, one) : t;
    const ox = f32x4.sub(tx, ax), oy = f32x4.sub(ty, ay);
    const i = f32x4.mul(f32x4.sub(f32x4.mul(ox, fy), f32x4.mul(oy, fx)), inverse);
    const j = f32x4.mul(f32x4.sub(f32x4.mul(oy, ex), f32x4.mul(ox, ey)), inverse);
    const drawn = i32x4.bitmask(v128.and(v128.and(v128.and(draw, seenAt(tx, ty)),
      v128.and(f32x4.le(tx, right), f32x4.le(ty, below))),
      v128.and(v128.and(f32x4.ge(i, least), f32x4.ge(j, least)), f32x4.le(f32x4.add(i, j), most)))) & mine;
    if (!drawn) continue;
    putFour(drawn, tx, ty,
      f32x4.add(u, f32x4.add(f32x4.mul(i, ue), f32x4.mul(j, uf))),
      f32x4.add(v, f32x4.add(f32x4.mul(i, ve), f32x4.mul(j, vf))),
      f32x4.add(r, f32x4.add(f32x4.mul(i, re), f32x4.mul(j, rf))));
  }
}

/** Which of four places lie in the map. */
// @ts-ignore: decorator
@inline
export function seenAt(s: v128, t: v128): v128 {
  return v128.and(
    v128.and(f32x4.ge(s, f32x4.splat(0)), f32x4.le(s, f32x4.splat(<f32>(targetWidth - 1)))),
    v128.and(f32x4.ge(t, f32x4.splat(<f32>firstRow)), f32x4.le(t, f32x4.splat(<f32>(endRow - 1)))));
}

/** Four target pixels, those whose bits are set. */
// @ts-ignore: decorator
@inline
export function putFour(drawn: i32, s: v128, t: v128, u: v128, v: v128, r: v128): void {
  const row = f32x4.mul(f32x4.sub(t, f32x4.splat(<f32>firstRow)), f32x4.splat(<f32>targetWidth));
  const at = i32x4.trunc_sat_f32x4_s(f32x4.add(row, s));
  if (drawn & 1) putAt(i32x4.extract_lane(at, 0), f32x4.extract_lane(u, 0), f32x4.extract_lane(v, 0), f32x4.extract_lane(r, 0));
  if (drawn & 2) putAt(i32x4.extract_lane(at, 1), f32x4.extract_lane(u, 1), f32x4.extract_lane(v, 1), f32x4.extract_lane(r, 1));
  if (drawn & 4) putAt(i32x4.extract_lane(at, 2), f32x4.extract_lane(u, 2), f32x4.extract_lane(v, 2), f32x4.extract_lane(r, 2));
  if (drawn & 8) putAt(i32x4.extract_lane(at, 3), f32x4.extract_lane(u, 3), f32x4.extract_lane(v, 3), f32x4.extract_lane(r, 3));
}

/** One target pixel of each of four quads, where it lies within it. */
function places4(
  wanted: v128, mine: i32, s: v128, t: v128, ax: v128, ay: v128, ex: v128, ey: v128, fx: v128, fy: v128, inverse: v128,
  x: v128, wide: v128, y0: f32, high: f32, ra: v128, rb: v128, rc: v128,
): void {
  const ox = f32x4.sub(s, ax), oy = f32x4.sub(t, ay);
  const i = f32x4.mul(f32x4.sub(f32x4.mul(ox, fy), f32x4.mul(oy, fx)), inverse);
  const j = f32x4.mul(f32x4.sub(f32x4.mul(oy, ex), f32x4.mul(ox, ey)), inverse);
  const least = f32x4.splat(-SKEW), most = f32x4.splat(1 + SKEW);
  const drawn = i32x4.bitmask(v128.and(v128.and(wanted, seenAt(s, t)), v128.and(
    v128.and(f32x4.ge(i, least), f32x4.le(i, most)), v128.and(f32x4.ge(j, least), f32x4.le(j, most))))) & mine;
  if (!drawn) return;
  const u = f32x4.add(x, f32x4.mul(i, wide));
  const v = f32x4.add(f32x4.splat(y0), f32x4.mul(j, f32x4.splat(high)));
  const r = f32x4.add(ra, f32x4.add(f32x4.mul(i, rb), f32x4.mul(j, rc)));
  putFour(drawn, s, t, u, v, r);
}
