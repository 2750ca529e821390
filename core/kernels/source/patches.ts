// Patch matching for texture fill: 7 x 7 px patches of RGBA pictures whose fourth channel is 0, compared by the sum of squares.

const REACH: i32 = 3;
/** The pixel in the middle of a row is loaded twice; the second time it does not count. */
const NOT_FIRST: v128 = i16x8(0, 0, 0, 0, -1, -1, -1, -1);

// @ts-ignore: decorator
@inline
function squares(a: v128, b: v128): v128 {
  const low = i16x8.sub(i16x8.extend_low_i8x16_u(a), i16x8.extend_low_i8x16_u(b)),
    high = i16x8.sub(i16x8.extend_high_i8x16_u(a), i16x8.extend_high_i8x16_u(b));
  return i32x4.add(i32x4.dot_i16x8_s(low, low), i32x4.dot_i16x8_s(high, high));
}

// @ts-ignore: decorator
@inline
function squaresButFirst(a: v128, b: v128): v128 {
  const low = v128.and(i16x8.sub(i16x8.extend_low_i8x16_u(a), i16x8.extend_low_i8x16_u(b)), NOT_FIRST),
    high = i16x8.sub(i16x8.extend_high_i8x16_u(a), i16x8.extend_high_i8x16_u(b));
  return i32x4.add(i32x4.dot_i16x8_s(low, low), i32x4.dot_i16x8_s(high, high));
}

// @ts-ignore: decorator
@inline
function total(v: v128): i32 {
  return i32x4.extract_lane(v, 0) + i32x4.extract_lane(v, 1) + i32x4.extract_lane(v, 2) + i32x4.extract_lane(v, 3);
}

/** What a source pays for lying higher or lower than its target: things at one height look alike. */
// @ts-ignore: decorator
@inline
function levelCost(width: i32, p: i32, q: i32, level: f32): i32 {
  const dy = <f32>(p / width - q / width);
  return <i32>(dy * dy * level);
}

/** Difference of the patches around two pixels; gives up (returning `best` or more) once it cannot be less than `best`. */
function difference(picture: usize, width: i32, p: i32, q: i32, best: i32, level: f32): i32 {
  const paid = levelCost(width, p, q, level);
  if (paid >= best) return best;
  const stride = <usize>width << 2;
  let a = picture + (<usize>(p - REACH * width - REACH) << 2), b = picture + (<usize>(q - REACH * width - REACH) << 2);
  let sum = i32x4.splat(0);
  for (let row = 0; row < 7; row++) {
    sum = i32x4.add(sum, i32x4.add(squares(v128.load(a), v128.load(b)), squaresButFirst(v128.load(a + 12), v128.load(b + 12))));
    if (row == 2 && total(sum) + paid >= best) return best;
    a += stride; b += stride;
  }
  return total(sum) + paid;
}

let chance: u32 = 1;
// @ts-ignore: decorator
@inline
function random(): u32 {
  chance ^= chance << 13; chance ^= chance >> 17; chance ^= chance << 5;
  return chance;
}

/**
 * One turn over the targets: each tries what its neighbours found, then places around its best in circles that shrink by half.
 *
 * slot: i32 a pixel, number of the target there or -1; targets: i32, their pixels in reading order; found, differences:
 * i32 a target, the source pixel and how far it is off; level: cost of a row's distance squared; may: u8 a pixel, 1
 * where a source patch may lie. Returns the sum of differences / 256.
 */
export function searchPatches(picture: usize, width: i32, height: i32, slot: usize, targets: usize, count: i32,
  found: usize, differences: usize, may: usize, back: i32, widest: i32, level: f32, seed: u32): f64 {
  chance = seed | 1;
  let sum: f64 = 0;
  const step = back ? -1 : 1;
  for (let n = back ? count - 1 : 0; n >= 0 && n < count; n += step) {
    const p = load<i32>(targets + (<usize>n << 2));
    let best = load<i32>(found + (<usize>n << 2));
    // The picture has changed since: what was found is measured anew.
    let least = difference(picture, width, p, best, i32.MAX_VALUE, level);
    for (let side = 0; side < 2; side++) {
      const by = side == 0 ? -step : -step * width, neighbour = load<i32>(slot + (<usize>(p + by) << 2));
      if (neighbour < 0) continue;
      const q = load<i32>(found + (<usize>neighbour << 2)) - by;
      if (q == best || q < 0 || q >= width * height || !load<u8>(may + <usize>q)) continue;
      const d = difference(picture, width, p, q, least, level);
      if (d < least) { least = d; best = q; }
    }
    for (let radius = widest; radius >= 1; radius >>= 1) {
      const bx = best % width, by = best / width, size = <u32>(2 * radius + 1);
      const x = bx - radius + <i32>(random() % size), y = by - radius + <i32>(random() % size);
      if (x < 0 || y < 0 || x >= width || y >= height) continue;
      const q = y * width + x;
      if (q == best || !load<u8>(may + <usize>q)) continue;
      const d = difference(picture, width, p, q, least, level);
      if (d < least) { least = d; best = q; }
    }
    store<i32>(found + (<usize>n << 2), best);
    store<i32>(differences + (<usize>n << 2), least);
    sum += <f64>least / 256;
  }
  return sum;
}

/**
 * Gives every listed pixel the weighted mean of what all patches over it say, as four floats in `out`.
 *
 * colours: u8 RGBA, or u16 RGBA where `deep`; weights: f32 a target.
 */
export function votePatches(colours: usize, deep: i32, width: i32, height: i32, slot: usize, found: usize, weights: usize,
  pixels: usize, count: i32, out: usize): void {
  for (let n = 0; n < count; n++) {
    const p = load<i32>(pixels + (<usize>n << 2)), px = p % width, py = p / width;
    let sum = f32x4.splat(0), all: f32 = 0;
    const top = max(0, py - REACH), bottom = min(height - 1, py + REACH), left = max(0, px - REACH),
      right = min(width - 1, px + REACH);
    for (let y = top; y <= bottom; y++) {
      for (let x = left; x <= right; x++) {
        const q = y * width + x, s = load<i32>(slot + (<usize>q << 2));
        if (s < 0) continue;
        const from = load<i32>(found + (<usize>s << 2)) + p - q, w = load<f32>(weights + (<usize>s << 2));
        const colour = deep ? v128.load64_zero(colours + (<usize>from << 3))
          : i16x8.extend_low_i8x16_u(v128.load32_zero(colours + (<usize>from << 2)));
        sum = f32x4.add(sum, f32x4.mul(f32x4.splat(w), f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(colour))));
        all += w;
      }
    }
    if (all > 0) v128.store(out + (<usize>n << 4), f32x4.div(sum, f32x4.splat(all)));
  }
}
