// What a regression over samples says of places and how it changes there (core/depth/marks).
import { exp4 } from './exp';

/**
 * For every place nine features (floats, over their lengths); samples: nine lists of features and one of weights, `many` long, a
 * multiple of four (those beyond the last with weight 0). Out, six floats a place: the sum of what place and look say; how that
 * changes by the first five features.
 */
export function foretellPlaces(places: usize, count: i32, samples: usize, many: i32, byPlace: f32, byLook: f32,
  placeBesideLook: f32, out: usize): void {
  const list = <usize>many << 2, weights = samples + 9 * list;
  const half = f32x4.splat(-0.5), wide = f32x4.splat(-0.5 * placeBesideLook);
  const p = f32x4.splat(byPlace), q = f32x4.splat(byLook), beside = f32x4.splat(placeBesideLook);
  for (let m = 0; m < count; m++) {
    const at = places + <usize>m * 36;
    const fx = f32x4.splat(load<f32>(at)), fy = f32x4.splat(load<f32>(at, 4)), fl = f32x4.splat(load<f32>(at, 8));
    const fa = f32x4.splat(load<f32>(at, 12)), fb = f32x4.splat(load<f32>(at, 16));
    const f5 = f32x4.splat(load<f32>(at, 20)), f6 = f32x4.splat(load<f32>(at, 24));
    const f7 = f32x4.splat(load<f32>(at, 28)), f8 = f32x4.splat(load<f32>(at, 32));
    let depth = f32x4.splat(0), sx = f32x4.splat(0), sy = f32x4.splat(0);
    let sl = f32x4.splat(0), sa = f32x4.splat(0), sb = f32x4.splat(0);
    for (let n: usize = 0; n < list; n += 16) {
      const s = samples + n, w = v128.load(weights + n);
      const dx = f32x4.sub(fx, v128.load(s)), dy = f32x4.sub(fy, v128.load(s + list));
      const dl = f32x4.sub(fl, v128.load(s + 2 * list)), da = f32x4.sub(fa, v128.load(s + 3 * list));
      const db = f32x4.sub(fb, v128.load(s + 4 * list));
      const d5 = f32x4.sub(f5, v128.load(s + 5 * list)), d6 = f32x4.sub(f6, v128.load(s + 6 * list));
      const d7 = f32x4.sub(f7, v128.load(s + 7 * list)), d8 = f32x4.sub(f8, v128.load(s + 8 * list));
      const place = f32x4.add(f32x4.mul(dx, dx), f32x4.mul(dy, dy));
      const look = f32x4.add(
        f32x4.add(f32x4.add(f32x4.mul(dl, dl), f32x4.mul(da, da)), f32x4.add(f32x4.mul(db, db), f32x4.mul(d5, d5))),
        f32x4.add(f32x4.add(f32x4.mul(d6, d6), f32x4.mul(d7, d7)), f32x4.mul(d8, d8)));
      const e = f32x4.mul(f32x4.mul(w, p), exp4(f32x4.mul(place, half)));
      const g = f32x4.mul(f32x4.mul(w, q), exp4(f32x4.add(f32x4.mul(place, wide), f32x4.mul(look, half))));
      const falls = f32x4.add(e, f32x4.mul(beside, g));
      depth = f32x4.add(depth, f32x4.add(e, g));
      sx = f32x4.sub(sx, f32x4.mul(falls, dx));
      sy = f32x4.sub(sy, f32x4.mul(falls, dy));
      sl = f32x4.sub(sl, f32x4.mul(g, dl));
      sa = f32x4.sub(sa, f32x4.mul(g, da));
      sb = f32x4.sub(sb, f32x4.mul(g, db));
    }
    const to = out + <usize>m * 24;
    store<f32>(to, across(depth));
    store<f32>(to + 4, across(sx));
    store<f32>(to + 8, across(sy));
    store<f32>(to + 12, across(sl));
    store<f32>(to + 16, across(sa));
    store<f32>(to + 20, across(sb));
  }
}

// @ts-ignore: decorator
@inline
function across(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3);
}
