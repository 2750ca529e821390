// What tears have opened, smoothed: drawn from its farther side alone (mesh.ts) it is streaks. A membrane (Laplace) over all
// gaps, held by
// neighbours that are not nearer than the gap's own ground; nearer ones are cut loose, so that no near colour bleeds in.
// Source: docs/computations.md, Fill of what is revealed.

const OMEGA: f32 = 1.7;

/**
 * @param map three planes of f32: x, y, rank (mesh.ts)
 * @param out RGBA, changed where a tear has opened it
 * @param slack so much nearer than its ground a neighbour may be, in ranks
 * @param index, list i32 of every pixel, values f32 x 4 of `most` pixels: room
 * @param most so many pixels are smoothed; what there is more stays as it is
 */
export function relaxTears(
  map: usize, out: usize, bytes: i32, width: i32, rows: i32,
  slack: f32, index: usize, list: usize, values: usize, most: i32, sweeps: i32,
): void {
  const count = width * rows;
  const ranks = map + (<usize>count << 3);
  const shift = bytes == 8 ? 3 : 2;
  let n = 0;
  for (let i = 0; i < count; i++) {
    const rank = load<f32>(ranks + (<usize>i << 2));
    const torn = rank < 0 && rank > -2 && n < most;
    store<i32>(index + (<usize>i << 2), torn ? n : -1);
    if (!torn) continue;
    store<i32>(list + (<usize>n << 2), i);
    v128.store(values + (<usize>n << 4), colour(out + (<usize>i << shift), bytes));
    n++;
  }
  for (let s = 0; s < sweeps; s++) {
    const forwards = (s & 1) == 0;
    for (let m = 0; m < n; m++) {
      const k = forwards ? m : n - 1 - m;
      const i = load<i32>(list + (<usize>k << 2));
      const x = i % width;
      const ground = (load<f32>(ranks + (<usize>i << 2)) + 1) * 10 + slack;
      sum = f32x4.splat(0); held = 0;
      if (x > 0) take(out, ranks, index, values, bytes, i - 1, ground);
      if (x < width - 1) take(out, ranks, index, values, bytes, i + 1, ground);
      if (i >= width) take(out, ranks, index, values, bytes, i - width, ground);
      if (i + width < count) take(out, ranks, index, values, bytes, i + width, ground);
      if (held == 0) continue;
      const at = values + (<usize>k << 4);
      const was = v128.load(at);
      const mean = f32x4.mul(sum, f32x4.splat(1 / <f32>held));
      v128.store(at, f32x4.add(was, f32x4.mul(f32x4.sub(mean, was), f32x4.splat(OMEGA))));
    }
  }
  const top = f32x4.splat(bytes == 8 ? 65535 : 255);
  for (let k = 0; k < n; k++) {
    const value = f32x4.min(f32x4.max(v128.load(values + (<usize>k << 4)), f32x4.splat(0)), top);
    const whole = i32x4.trunc_sat_f32x4_u(f32x4.add(value, f32x4.splat(0.5)));
    const words = i16x8.narrow_i32x4_u(whole, whole);
    const to = out + (<usize>load<i32>(list + (<usize>k << 2)) << shift);
    if (bytes == 8) v128.store64_lane(to, words, 0);
    else v128.store32_lane(to, i8x16.narrow_i16x8_u(words, words), 0);
  }
}

let sum: v128 = i32x4(0, 0, 0, 0);
let held: i32 = 0;

/** Adds a neighbour that holds the membrane. */
// @ts-ignore: decorator
@inline
function take(out: usize, ranks: usize, index: usize, values: usize, bytes: i32, j: i32, ground: f32): void {
  const n = load<i32>(index + (<usize>j << 2));
  if (n >= 0) {
    sum = f32x4.add(sum, v128.load(values + (<usize>n << 4)));
    held++;
    return;
  }
  const rank = load<f32>(ranks + (<usize>j << 2));
  if (rank < 0 || rank > ground) return;
  sum = f32x4.add(sum, colour(out + (<usize>j << (bytes == 8 ? 3 : 2)), bytes));
  held++;
}

// @ts-ignore: decorator
@inline
function colour(p: usize, bytes: i32): v128 {
  if (bytes == 8) return f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(v128.load64_zero(p)));
  return f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(v128.load32_zero(p))));
}
