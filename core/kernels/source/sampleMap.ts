// Colours of a map of places (mesh.ts): each target pixel is sampled once, bilinearly, and laid over what is there.
// Source of "over": Porter and Duff, "Compositing digital images", SIGGRAPH 1984.

/** Below it nothing has landed (mesh.ts, EMPTY), and below the next it was closed between neighbours (closeCracks.ts). */
const LANDED: f32 = -3.5, DRAWN: f32 = -3.3;

/**
 * @param map three planes of f32: x, y, rank (mesh.ts)
 * @param pixels RGBA, premultiplied; one pixel more may be read behind them
 * @param scale of the pixels' raster, px a px of the places: pixel k lies at k * scale
 * @param out RGBA of the same bytes a pixel, changed
 * @param state a byte a target pixel, changed where the surface covers half and more: 0 seen, 1 opened by a tear, 2 beyond the
 * border;
 *   what is never covered keeps what it had
 * @param mapWidth, rows of the map; out and state begin with its first row
 * @param left, right columns that anything may have landed in
 */
export function sampleMap(
  map: usize, pixels: usize, bytes: i32, width: i32, height: i32, scale: f32, out: usize, state: usize,
  mapWidth: i32, rows: i32, left: i32, right: i32,
): void {
  const count = mapWidth * rows;
  const mapY = map + (<usize>count << 2), mapZ = map + (<usize>count << 3);
  const lastX = <f32>(width - 1), lastY = <f32>(height - 1);
  const deep = bytes == 8;
  const landed = f32x4.splat(LANDED), none = f32x4.splat(0);
  const grid = f32x4.splat(256), half = f32x4.splat(0.5);
  const mostX = f32x4.splat(lastX), mostY = f32x4.splat(lastY), times = f32x4.splat(scale);
  for (let y = 0; y < rows; y++) {
    for (let x = left; x < right; x += 4) {
      const n = <usize>(y * mapWidth + x);
      const at = n << 2;
      let bits = i32x4.bitmask(f32x4.ge(v128.load(mapZ + at), landed));
      if (right - x < 4) bits &= (1 << (right - x)) - 1;
      if (!bits) continue;
      const u = f32x4.min(f32x4.max(f32x4.mul(v128.load(map + at), times), none), mostX);
      const v = f32x4.min(f32x4.max(f32x4.mul(v128.load(mapY + at), times), none), mostY);
      v128.store(placeX, deep ? u : i32x4.trunc_sat_f32x4_s(f32x4.add(f32x4.mul(u, grid), half)));
      v128.store(placeY, deep ? v : i32x4.trunc_sat_f32x4_s(f32x4.add(f32x4.mul(v, grid), half)));
      for (let k = 0; k < 4; k++) {
        if (!(bits & (1 << k))) continue;
        const o = <usize>k << 2, m = n + <usize>k;
        const covers = deep
          ? deepPixel(pixels, width, height, load<f32>(placeX + o), load<f32>(placeY + o), out + (m << 3))
          : pixel(pixels, width, height, load<i32>(placeX + o), load<i32>(placeY + o), out + (m << 2));
        if (!covers) continue;
        const rank = load<f32>(mapZ + (m << 2));
        store<u8>(state + m, rank >= 0 || rank < DRAWN ? 0 : rank > -2 ? 1 : 2);
      }
    }
  }
}

const placeX = memory.data(16), placeY = memory.data(16);

/** One pixel of 8 bits a channel, its place in 1/256 px. Returns whether it covers half and more. */
// @ts-ignore: decorator
@inline
function pixel(pixels: usize, width: i32, height: i32, fixedX: i32, fixedY: i32, to: usize): bool {
  const x = fixedX >> 8, y = fixedY >> 8, fx = fixedX & 255, fy = fixedY & 255;
  const p = pixels + (<usize>(y * width + x) << 2);
  const upper = i16x8.extend_low_i8x16_u(v128.load64_zero(p));
  const lower = i16x8.extend_low_i8x16_u(v128.load64_zero(p + (y < height - 1 ? <usize>width << 2 : 0)));
  // At the last column what follows has no weight: its place is whole.
  const down = i16x8.add(i16x8.mul(upper, i16x8.splat(<i16>(256 - fy))), i16x8.mul(lower, i16x8.splat(<i16>fy)));
  const sum = i32x4.add(
    i32x4.extmul_low_i16x8_u(down, i16x8.splat(<i16>(256 - fx))),
    i32x4.extmul_high_i16x8_u(down, i16x8.splat(<i16>fx)));
  const value = i32x4.shr_u(i32x4.add(sum, i32x4.splat(32768)), 16);
  const alpha = i32x4.extract_lane(value, 3);
  if (alpha == 0) return false;
  let words = i16x8.narrow_i32x4_u(value, value);
  if (alpha < 255) {
    const under = i16x8.mul(i16x8.extend_low_i8x16_u(v128.load32_zero(to)), i16x8.splat(<i16>(255 - alpha)));
    // Divided by 255, rounded.
    const half = i16x8.add(under, i16x8.splat(128));
    words = i16x8.add(words, i16x8.shr_u(i16x8.add(half, i16x8.shr_u(half, 8)), 8));
  }
  v128.store32_lane(to, i8x16.narrow_i16x8_u(words, words), 0);
  return alpha >= 128;
}

/** One pixel of 16 bits a channel. Returns whether it covers half and more. */
function deepPixel(pixels: usize, width: i32, height: i32, u: f32, v: f32, to: usize): bool {
  const x = <i32>u, y = <i32>v;
  const fx = f32x4.splat(u - <f32>x), fy = f32x4.splat(v - <f32>y);
  const p = pixels + (<usize>(y * width + x) << 3);
  const right: usize = x < width - 1 ? 8 : 0;
  const q = p + (y < height - 1 ? <usize>width << 3 : 0);
  const a = colour(p), c = colour(q);
  const upper = f32x4.add(a, f32x4.mul(f32x4.sub(colour(p + right), a), fx));
  const lower = f32x4.add(c, f32x4.mul(f32x4.sub(colour(q + right), c), fx));
  let value = f32x4.add(upper, f32x4.mul(f32x4.sub(lower, upper), fy));
  const alpha = f32x4.extract_lane(value, 3);
  if (alpha <= 0) return false;
  if (alpha < 65535) value = f32x4.add(value, f32x4.mul(colour(to), f32x4.splat(1 - alpha / 65535)));
  const whole = i32x4.trunc_sat_f32x4_u(f32x4.add(value, f32x4.splat(0.5)));
  v128.store64_lane(to, i16x8.narrow_i32x4_u(whole, whole), 0);
  return alpha >= 32768;
}

// @ts-ignore: decorator
@inline
function colour(p: usize): v128 {
  return f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(v128.load64_zero(p)));
}
