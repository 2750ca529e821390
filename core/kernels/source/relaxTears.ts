// What tears have opened, smoothed: drawn from its farther side alone (mesh.ts) it is streaks. A membrane (Laplace) over all
// gaps, held by
// neighbours that are not nearer than the gap's own ground; nearer ones are cut loose, so that no near colour bleeds in.
// Source: docs/computations.md, Fill of what is revealed.

const OMEGA: f32 = 1.7;

/** What is kept of a pixel: its value, what its still neighbours add, where its others lie, one over how many there are. */
const VALUE: usize = 0, STILL: usize = 16, OTHERS: usize = 32, SHARE: usize = 48;

/**
 * @param map three planes of f32: x, y, rank (mesh.ts)
 * @param out RGBA, changed where a tear has opened it
 * @param slack so much nearer than its ground a neighbour may be, in ranks
 * @param index, list i32 of every pixel, kept 64 bytes of `most` pixels and one more: room
 * @param most so many pixels are smoothed; what there is more stays as it is
 */
export function relaxTears(
  map: usize, out: usize, bytes: i32, width: i32, rows: i32,
  slack: f32, index: usize, list: usize, kept: usize, most: i32, sweeps: i32,
): void {
  const count = width * rows;
  const ranks = map + (<usize>count << 3);
  const shift = bytes == 8 ? 3 : 2;
  let n = 0;
  for (let i = 0; i < count; i += 4) {
    const four = v128.load(ranks + (<usize>i << 2));
    let bits = i32x4.bitmask(v128.and(f32x4.lt(four, f32x4.splat(0)), f32x4.gt(four, f32x4.splat(-2))));
    if (count - i < 4) bits &= (1 << (count - i)) - 1;
    v128.store(index + (<usize>i << 2), i32x4.splat(-1));
    for (let k = i; bits; k++, bits >>= 1) {
      if (!(bits & 1) || n >= most) continue;
      store<i32>(index + (<usize>k << 2), n);
      store<i32>(list + (<usize>n << 2), k);
      v128.store(kept + (<usize>n << 6), colour(out + (<usize>k << shift), bytes));
      n++;
    }
  }
  // Behind the last: nothing, so that what has fewer neighbours adds nothing.
  const nothing = kept + (<usize>n << 6);
  v128.store(nothing, f32x4.splat(0));
  for (let k = 0; k < n; k++) {
    const i = load<i32>(list + (<usize>k << 2));
    const x = i % width;
    const ground = (load<f32>(ranks + (<usize>i << 2)) + 1) * 10 + slack;
    const at = kept + (<usize>k << 6);
    still = f32x4.splat(0); held = 0; other = at + OTHERS;
    if (x > 0) take(out, ranks, index, kept, bytes, i - 1, ground);
    if (x < width - 1) take(out, ranks, index, kept, bytes, i + 1, ground);
    if (i >= width) take(out, ranks, index, kept, bytes, i - width, ground);
    if (i + width < count) take(out, ranks, index, kept, bytes, i + width, ground);
    v128.store(at + STILL, still);
    for (const end = at + SHARE; other < end; other += 4) store<u32>(other, <u32>nothing);
    store<f32>(at + SHARE, held == 0 ? 0 : 1 / <f32>held);
  }
  const omega = f32x4.splat(OMEGA);
  for (let s = 0; s < sweeps; s++) {
    const forwards = (s & 1) == 0;
    for (let m = 0; m < n; m++) {
      const at = kept + (<usize>(forwards ? m : n - 1 - m) << 6);
      const share = load<f32>(at + SHARE);
      if (share == 0) continue;
      const sum = f32x4.add(
        f32x4.add(v128.load(<usize>load<u32>(at + OTHERS)), v128.load(<usize>load<u32>(at + OTHERS + 4))),
        f32x4.add(
          f32x4.add(v128.load(<usize>load<u32>(at + OTHERS + 8)), v128.load(<usize>load<u32>(at + OTHERS + 12))),
          v128.load(at + STILL)));
      const was = v128.load(at + VALUE);
      v128.store(at + VALUE, f32x4.add(was, f32x4.mul(f32x4.sub(f32x4.mul(sum, f32x4.splat(share)), was), omega)));
    }
  }
  const top = f32x4.splat(bytes == 8 ? 65535 : 255);
  for (let k = 0; k < n; k++) {
    const value = f32x4.min(f32x4.max(v128.load(kept + (<usize>k << 6)), f32x4.splat(0)), top);
    const whole = i32x4.trunc_sat_f32x4_u(f32x4.add(value, f32x4.splat(0.5)));
    const words = i16x8.narrow_i32x4_u(whole, whole);
    const to = out + (<usize>load<i32>(list + (<usize>k << 2)) << shift);
    if (bytes == 8) v128.store64_lane(to, words, 0);
    else v128.store32_lane(to, i8x16.narrow_i16x8_u(words, words), 0);
  }
}

let still: v128 = i32x4(0, 0, 0, 0);
let held: i32 = 0;
let other: usize = 0;

/** Takes a neighbour that holds the membrane: one that is smoothed itself, or one that stays. */
// @ts-ignore: decorator
@inline
function take(out: usize, ranks: usize, index: usize, kept: usize, bytes: i32, j: i32, ground: f32): void {
  const n = load<i32>(index + (<usize>j << 2));
  if (n >= 0) {
    store<u32>(other, <u32>(kept + (<usize>n << 6)));
    other += 4;
    held++;
    return;
  }
  const rank = load<f32>(ranks + (<usize>j << 2));
  if (rank < 0 || rank > ground) return;
  still = f32x4.add(still, colour(out + (<usize>j << (bytes == 8 ? 3 : 2)), bytes));
  held++;
}

// @ts-ignore: decorator
@inline
function colour(p: usize, bytes: i32): v128 {
  if (bytes == 8) return f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(v128.load64_zero(p)));
  return f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(v128.load32_zero(p))));
}
