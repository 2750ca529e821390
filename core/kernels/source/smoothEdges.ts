// Weighted least squares along rows and columns (core/raster/fastGlobalSmoother says which). Rows of planes, bonds
// and the guide are a
// multiple of four px long, and a multiple of eight of them.
import { exp4 } from './exp';

/**
 * How strongly four px hold together with four others, 0 to 1, by their colours (RGBA of 8 bits; alpha has no part).
 */
// @ts-ignore: decorator
@inline
function bonds(p: v128, q: v128, perStep: v128): v128 {
  const d = v128.and(v128.or(i8x16.sub_sat_u(p, q), i8x16.sub_sat_u(q, p)), i32x4.splat(0x00ffffff));
  const low = i16x8.extend_low_i8x16_u(d), high = i16x8.extend_high_i8x16_u(d);
  const x = i32x4.dot_i16x8_s(low, low), y = i32x4.dot_i16x8_s(high, high);
  const sum = i32x4.add(v128.shuffle<i32>(x, y, 0, 2, 4, 6), v128.shuffle<i32>(x, y, 1, 3, 5, 7));
  return exp4(f32x4.mul(f32x4.sqrt(f32x4.convert_i32x4_s(sum)), perStep));
}

/** The bonds of each px with the next one of its row, and with the one below; floats, two planes. */
export function smoothBonds(guide: usize, row: i32, height: i32, sigma: f32, next: usize, below: usize): void {
  const perStep = f32x4.splat(-1 / sigma), long = <usize>row << 2, end = long * height;
  for (let at: usize = 0; at < end; at += 16) {
    const here = v128.load(guide + at);
    v128.store(next + at, bonds(here, v128.load(guide + at + 4), perStep));
    if (at + long < end) v128.store(below + at, bonds(here, v128.load(guide + at + long), perStep));
    else v128.store(below + at, f32x4.splat(0));
  }
}

// @ts-ignore: decorator
@inline
function gather(at: usize, long: usize): v128 {
  let v = v128.load32_zero(at);
  v = v128.load_lane<f32>(at + long, v, 1);
  v = v128.load_lane<f32>(at + 2 * long, v, 2);
  return v128.load_lane<f32>(at + 3 * long, v, 3);
}
// @ts-ignore: decorator
@inline
function scatter(at: usize, long: usize, v: v128): void {
  v128.store_lane<f32>(at, v, 0);
  v128.store_lane<f32>(at + long, v, 1);
  v128.store_lane<f32>(at + 2 * long, v, 2);
  v128.store_lane<f32>(at + 3 * long, v, 3);
}

/**
 * Along the rows, eight at a time: two chains of four, so that one divides while the other waits. held: 64 bytes for
 * every column.
 */
export function smoothRows(plane: usize, next: usize, row: i32, width: i32, height: i32, lambda: f32, held: usize): void {
  const strength = f32x4.splat(lambda), one = f32x4.splat(1), zero = f32x4.splat(0);
  const long = <usize>row << 2;
  for (let y = 0; y < height; y += 8) {
    const a = plane + <usize>y * long, b = a + 4 * long, p = next + <usize>y * long, q = p + 4 * long;
    let beforeA = zero, lastA = zero, aheadA = zero, beforeB = zero, lastB = zero, aheadB = zero;
    for (let x = 0; x < width; x++) {
      const at = <usize>x << 2, to = held + (at << 4);
      const afterA = x + 1 < width ? f32x4.mul(strength, gather(p + at, long)) : zero;
      const afterB = x + 1 < width ? f32x4.mul(strength, gather(q + at, long)) : zero;
      const shareA = f32x4.div(one, f32x4.add(f32x4.add(one, afterA), f32x4.mul(beforeA, f32x4.sub(one, aheadA))));
      const shareB = f32x4.div(one, f32x4.add(f32x4.add(one, afterB), f32x4.mul(beforeB, f32x4.sub(one, aheadB))));
      lastA = f32x4.mul(f32x4.add(gather(a + at, long), f32x4.mul(beforeA, lastA)), shareA);
      lastB = f32x4.mul(f32x4.add(gather(b + at, long), f32x4.mul(beforeB, lastB)), shareB);
      aheadA = f32x4.mul(afterA, shareA);
      aheadB = f32x4.mul(afterB, shareB);
      v128.store(to, aheadA);
      v128.store(to, aheadB, 16);
      v128.store(to, lastA, 32);
      v128.store(to, lastB, 48);
      beforeA = afterA;
      beforeB = afterB;
    }
    const end = <usize>(width - 1) << 2;
    scatter(a + end, long, lastA);
    scatter(b + end, long, lastB);
    for (let x = width - 2; x >= 0; x--) {
      const at = <usize>x << 2, from = held + (at << 4);
      lastA = f32x4.add(v128.load(from, 32), f32x4.mul(v128.load(from), lastA));
      lastB = f32x4.add(v128.load(from, 48), f32x4.mul(v128.load(from, 16), lastB));
      scatter(a + at, long, lastA);
      scatter(b + at, long, lastB);
    }
  }
}

/** Along the columns. c: as many rows as the plane. */
export function smoothColumns(plane: usize, below: usize, row: i32, height: i32, lambda: f32, c: usize): void {
  const strength = f32x4.splat(lambda), one = f32x4.splat(1);
  const long = <usize>row << 2;
  for (let x: usize = 0; x < long; x += 16) {
    const after = height > 1 ? f32x4.mul(strength, v128.load(below + x)) : f32x4.splat(0);
    const share = f32x4.div(one, f32x4.add(one, after));
    v128.store(plane + x, f32x4.mul(v128.load(plane + x), share));
    v128.store(c + x, f32x4.mul(after, share));
  }
  for (let y = 1; y < height; y++) {
    const start = <usize>y * long;
    for (let x: usize = 0; x < long; x += 16) {
      const at = plane + start + x, bond = below + start + x;
      const after = y + 1 < height ? f32x4.mul(strength, v128.load(bond)) : f32x4.splat(0);
      const before = f32x4.mul(strength, v128.load(bond - long));
      const whole = f32x4.add(f32x4.add(one, after), f32x4.mul(before, f32x4.sub(one, v128.load(c + start + x - long))));
      const share = f32x4.div(one, whole);
      v128.store(at, f32x4.mul(f32x4.add(v128.load(at), f32x4.mul(before, v128.load(at - long))), share));
      v128.store(c + start + x, f32x4.mul(after, share));
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
