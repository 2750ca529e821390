/**
 * e^x of four values, x from -87 to 0; what is less counts as -87. To 2e-7 of the value.
 * By powers of two: the whole part goes into the exponent, the rest through a polynomial (least squares of the relative error over
 * Chebyshev's places).
 */
// @ts-ignore: decorator
@inline
export function exp4(x: v128): v128 {
  const y = f32x4.mul(f32x4.max(x, f32x4.splat(-87)), f32x4.splat(1.44269504));
  const whole = f32x4.floor(y), f = f32x4.sub(y, whole);
  let p = f32x4.splat(0.0018762329127639532);
  p = f32x4.add(f32x4.mul(p, f), f32x4.splat(0.00899258442223072));
  p = f32x4.add(f32x4.mul(p, f), f32x4.splat(0.05582360550761223));
  p = f32x4.add(f32x4.mul(p, f), f32x4.splat(0.24015453457832336));
  p = f32x4.add(f32x4.mul(p, f), f32x4.splat(0.6931529641151428));
  p = f32x4.add(f32x4.mul(p, f), f32x4.splat(0.9999999403953552));
  return f32x4.mul(p, i32x4.shl(i32x4.add(i32x4.trunc_sat_f32x4_s(whole), i32x4.splat(127)), 23));
}
