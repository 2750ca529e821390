// Weighted least squares along rows and columns (core/raster/fastGlobalSmoother says which). Rows of planes and of the guide are a
// multiple of four px long.
import { exp4 } from './exp';

/** How strongly four px hold together with four others, by their colours (RGBA of 8 bits; alpha has no part). */
// @ts-ignore: decorator
@inline
function bonds(a: usize, b: usize, perStep: v128, strength: v128): v128 {
  const p = v128.load(a), q = v128.load(b);
  const d = v128.and(v128.or(i8x16.sub_sat_u(p, q), i8x16.sub_sat_u(q, p)), i32x4.splat(0x00ffffff));
  const low = i16x8.extend_low_i8x16_u(d), high = i16x8.extend_high_i8x16_u(d);
  const x = i32x4.dot_i16x8_s(low, low), y = i32x4.dot_i16x8_s(high, high);
  const sum = i32x4.add(v128.shuffle<i32>(x, y, 0, 2, 4, 6), v128.shuffle<i32>(x, y, 1, 3, 5, 7));
  return f32x4.mul(strength, exp4(f32x4.mul(f32x4.sqrt(f32x4.convert_i32x4_s(sum)), perStep)));
}

/** Along the rows, four at a time. held: four rows of floats; c: 16 bytes for every column. */
export function smoothRows(plane: usize, guide: usize, row: i32, width: i32, height: i32, lambda: f32, sigma: f32,
  held: usize, c: usize): void {
  const perStep = f32x4.splat(-1 / sigma), strength = f32x4.splat(lambda), one = f32x4.splat(1);
  const long = <usize>row << 2;
  for (let y = 0; y < height; y += 4) {
    for (let k = 0; k < 4; k++) {
      const from = guide + <usize>(y + k) * long, to = held + <usize>k * long;
      for (let x: usize = 0; x < long; x += 16) v128.store(to + x, bonds(from + x, from + x + 4, perStep, strength));
    }
    const a = plane + <usize>y * long, b = a + long, d = b + long, e = d + long;
    let before = f32x4.splat(0), last = f32x4.splat(0), ahead = f32x4.splat(0);
    for (let x = 0; x < width; x++) {
      const at = <usize>x << 2;
      let after = f32x4.splat(0);
      if (x + 1 < width) {
        after = v128.load32_zero(held + at);
        after = v128.load_lane<f32>(held + long + at, after, 1);
        after = v128.load_lane<f32>(held + 2 * long + at, after, 2);
        after = v128.load_lane<f32>(held + 3 * long + at, after, 3);
      }
      let v = v128.load32_zero(a + at);
      v = v128.load_lane<f32>(b + at, v, 1);
      v = v128.load_lane<f32>(d + at, v, 2);
      v = v128.load_lane<f32>(e + at, v, 3);
      const whole = f32x4.add(f32x4.add(one, after), f32x4.mul(before, f32x4.sub(one, ahead)));
      const share = f32x4.div(one, whole);
      last = f32x4.mul(f32x4.add(v, f32x4.mul(before, last)), share);
      ahead = f32x4.mul(after, share);
      v128.store(c + (at << 2), ahead);
      v128.store_lane<f32>(a + at, last, 0);
      v128.store_lane<f32>(b + at, last, 1);
      v128.store_lane<f32>(d + at, last, 2);
      v128.store_lane<f32>(e + at, last, 3);
      before = after;
    }
    for (let x = width - 2; x >= 0; x--) {
      const at = <usize>x << 2;
      let v = v128.load32_zero(a + at);
      v = v128.load_lane<f32>(b + at, v, 1);
      v = v128.load_lane<f32>(d + at, v, 2);
      v = v128.load_lane<f32>(e + at, v, 3);
      last = f32x4.add(v, f32x4.mul(v128.load(c + (at << 2)), last));
      v128.store_lane<f32>(a + at, last, 0);
      v128.store_lane<f32>(b + at, last, 1);
      v128.store_lane<f32>(d + at, last, 2);
      v128.store_lane<f32>(e + at, last, 3);
    }
  }
}

/** Along the columns. held: one row of floats; c: as many rows as the plane. */
export function smoothColumns(plane: usize, guide: usize, row: i32, height: i32, lambda: f32, sigma: f32, held: usize,
  c: usize): void {
  const perStep = f32x4.splat(-1 / sigma), strength = f32x4.splat(lambda), one = f32x4.splat(1);
  const long = <usize>row << 2;
  memory.fill(held, 0, long);
  for (let y = 0; y < height; y++) {
    const start = <usize>y * long;
    for (let x: usize = 0; x < long; x += 16) {
      const at = plane + start + x, own = guide + start + x;
      const after = y + 1 < height ? bonds(own, own + long, perStep, strength) : f32x4.splat(0);
      let v = v128.load(at), whole = f32x4.add(one, after);
      if (y > 0) {
        const before = v128.load(held + x);
        whole = f32x4.add(whole, f32x4.mul(before, f32x4.sub(one, v128.load(c + start + x - long))));
        v = f32x4.add(v, f32x4.mul(before, v128.load(at - long)));
      }
      const share = f32x4.div(one, whole);
      v128.store(at, f32x4.mul(v, share));
      v128.store(c + start + x, f32x4.mul(after, share));
      v128.store(held + x, after);
    }
  }
  for (let y = height - 2; y >= 0; y--) {
    const start = <usize>y * long;
    for (let x: usize = 0; x < long; x += 16) {
      const at = plane + start + x;
      v128.store(at, f32x4.add(v128.load(at), f32x4.mul(v128.load(c + start + x), v128.load(at + long))));
    }
  }
}
