// One triangle of a surface's mesh (mesh.ts), row by row.

import { from, to, limit, beginRow } from './meshSpan';
import { mapX, mapY, mapZ, targetWidth, firstRow, endRow } from './meshTarget';

/** One triangle; what is folded over shows nothing. */
export function triangle(ax: f32, ay: f32, bx: f32, by: f32, cx: f32, cy: f32,
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
  const step = f32x4(0, 1, 2, 3);
  const ub1 = f32x4.splat(ub - ua), uc1 = f32x4.splat(uc - ua), vb1 = f32x4.splat(vb - va), vc1 = f32x4.splat(vc - va);
  const rb1 = f32x4.splat(rb - ra), rc1 = f32x4.splat(rc - ra);
  for (let t = t0; t <= t1; t++) {
    const y = <f32>t - ay;
    let first = s0, last = s1;
    if (s1 - s0 >= 8) {
      // Long ones: where a row enters and leaves.
      beginRow(<f32>s0 - ax, <f32>s1 - ax);
      limit(bx1, y * by1 - least);
      limit(cx1, y * cy1 - least);
      limit(-bx1 - cx1, most - y * (by1 + cy1));
      first = max(<i32>ceil(from + ax), s0); last = min(<i32>floor(to + ax), s1);
    }
    const row = (t - firstRow) * targetWidth;
    for (let s = first; s <= last; s += 4) {
      const x = f32x4.add(f32x4.splat(<f32>s - ax), step);
      const b = f32x4.add(f32x4.mul(x, f32x4.splat(bx1)), f32x4.splat(y * by1));
      const c = f32x4.add(f32x4.mul(x, f32x4.splat(cx1)), f32x4.splat(y * cy1));
      const r = f32x4.add(f32x4.splat(ra), f32x4.add(f32x4.mul(b, rb1), f32x4.mul(c, rc1)));
      const o = <usize>(row + s) << 2;
      const old = v128.load(mapZ + o);
      let win = v128.and(
        v128.and(f32x4.ge(b, f32x4.splat(least)), f32x4.ge(c, f32x4.splat(least))),
        v128.and(f32x4.le(f32x4.add(b, c), f32x4.splat(most)), f32x4.gt(r, old)));
      if (last - s < 3) win = v128.and(win, i32x4.gt_s(i32x4.splat(last - s + 1), i32x4(0, 1, 2, 3)));
      if (!v128.any_true(win)) continue;
      const u = f32x4.add(f32x4.splat(ua), f32x4.add(f32x4.mul(b, ub1), f32x4.mul(c, uc1)));
      const v = f32x4.add(f32x4.splat(va), f32x4.add(f32x4.mul(b, vb1), f32x4.mul(c, vc1)));
      v128.store(mapZ + o, v128.bitselect(r, old, win));
      v128.store(mapX + o, v128.bitselect(u, v128.load(mapX + o), win));
      v128.store(mapY + o, v128.bitselect(v, v128.load(mapY + o), win));
    }
  }
}
