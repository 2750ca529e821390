// A pixel of 4 or 8 bytes as four floats, and back (AssemblyScript, compiled to WASM SIMD).

// @ts-ignore: decorator
@inline
export function colour(at: usize, sampleBytes: i32): v128 {
  const words = sampleBytes == 4 ? i16x8.extend_low_i8x16_u(v128.load32_zero(at)) : v128.load64_zero(at);
  return f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(words));
}

/** Rounded, and kept within what a sample holds. */
// @ts-ignore: decorator
@inline
export function putColour(at: usize, value: v128, sampleBytes: i32): void {
  const whole = i32x4.trunc_sat_f32x4_s(f32x4.add(value, f32x4.splat(0.5)));
  const words = i16x8.narrow_i32x4_u(whole, whole);
  if (sampleBytes == 4) v128.store32_lane(at, i8x16.narrow_i16x8_u(i16x8.min_u(words, i16x8.splat(255)), words), 0);
  else v128.store64_lane(at, words, 0);
}
