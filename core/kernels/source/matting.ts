// The matting Laplacian of Levin, Lischinski and Weiss (PAMI 2008) applied window by window, rows of a window at a time.

/** Lanes 0 to 2 of a row of four. */
// @ts-ignore: decorator
@inline
function three(): v128 { return i32x4(-1, -1, -1, 0); }

// @ts-ignore: decorator
@inline
function total(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + f32x4.extract_lane(v, 2);
}

/**
 * out += L values over `count` windows of 3 x 3.
 * corners: the upper left pixel of each (i32); facts: sums of red, green and blue and inverse covariance rr rg rb gg gb bb of
 * each (9 f32), the latter for colours in the planes' unit; red, green and blue hold nine times the colour;
 * all planes are of f32, `width` a row, with room for one value more at their end.
 */
export function applyMatting(corners: usize, facts: usize, count: i32, red: usize, green: usize, blue: usize, values: usize,
  out: usize, width: i32): void {
  const step = <usize>width << 2, keep = three(), ninth: f32 = 1.0 / 9.0;
  for (let n = 0; n < count; n++) {
    const at = <usize>load<i32>(corners + (<usize>n << 2)) << 2;
    const f = facts + <usize>(n * 36);
    const mr = v128.load32_splat(f), mg = v128.load32_splat(f + 4), mb = v128.load32_splat(f + 8);
    const a = at, b = at + step, c = b + step;
    const p0 = v128.and(v128.load(values + a), keep), p1 = v128.and(v128.load(values + b), keep),
      p2 = v128.and(v128.load(values + c), keep);
    const r0 = f32x4.sub(v128.load(red + a), mr), r1 = f32x4.sub(v128.load(red + b), mr), r2 = f32x4.sub(v128.load(red + c), mr);
    const g0 = f32x4.sub(v128.load(green + a), mg), g1 = f32x4.sub(v128.load(green + b), mg),
      g2 = f32x4.sub(v128.load(green + c), mg);
    const b0 = f32x4.sub(v128.load(blue + a), mb), b1 = f32x4.sub(v128.load(blue + b), mb),
      b2 = f32x4.sub(v128.load(blue + c), mb);
    const sum = total(f32x4.add(f32x4.add(p0, p1), p2));
    const x = total(f32x4.add(f32x4.add(f32x4.mul(r0, p0), f32x4.mul(r1, p1)), f32x4.mul(r2, p2)));
    const y = total(f32x4.add(f32x4.add(f32x4.mul(g0, p0), f32x4.mul(g1, p1)), f32x4.mul(g2, p2)));
    const z = total(f32x4.add(f32x4.add(f32x4.mul(b0, p0), f32x4.mul(b1, p1)), f32x4.mul(b2, p2)));
    const rr = load<f32>(f + 12), rg = load<f32>(f + 16), rb = load<f32>(f + 20), gg = load<f32>(f + 24),
      gb = load<f32>(f + 28), bb = load<f32>(f + 32);
    const u = f32x4.splat((rr * x + rg * y + rb * z) * ninth), v = f32x4.splat((rg * x + gg * y + gb * z) * ninth),
      w = f32x4.splat((rb * x + gb * y + bb * z) * ninth);
    const s = f32x4.splat(sum * ninth);
    const o0 = f32x4.sub(p0, f32x4.add(f32x4.add(s, f32x4.mul(r0, u)), f32x4.add(f32x4.mul(g0, v), f32x4.mul(b0, w))));
    const o1 = f32x4.sub(p1, f32x4.add(f32x4.add(s, f32x4.mul(r1, u)), f32x4.add(f32x4.mul(g1, v), f32x4.mul(b1, w))));
    const o2 = f32x4.sub(p2, f32x4.add(f32x4.add(s, f32x4.mul(r2, u)), f32x4.add(f32x4.mul(g2, v), f32x4.mul(b2, w))));
    v128.store(out + a, f32x4.add(v128.load(out + a), v128.and(o0, keep)));
    v128.store(out + b, f32x4.add(v128.load(out + b), v128.and(o1, keep)));
    v128.store(out + c, f32x4.add(v128.load(out + c), v128.and(o2, keep)));
  }
}
