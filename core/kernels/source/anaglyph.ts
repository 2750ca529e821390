// Mixes two RGBA pictures into an anaglyph with a 3 x 6 matrix in 16.16 fixed point, floor, clipped: the arithmetic of
// FFmpeg's stereo3d filter, so that both agree to the last bit. Four pixels a turn.

/** matrix: 18 i32, rows red green blue, columns left r g b, right r g b. pixels: a multiple of 4 (the caller pads). */
export function mixAnaglyph(left: usize, right: usize, out: usize, pixels: i32, matrix: usize): void {
  const byte = i32x4.splat(255);
  const m0 = v128.load32_splat(matrix), m1 = v128.load32_splat(matrix + 4), m2 = v128.load32_splat(matrix + 8);
  const m3 = v128.load32_splat(matrix + 12), m4 = v128.load32_splat(matrix + 16), m5 = v128.load32_splat(matrix + 20);
  const n0 = v128.load32_splat(matrix + 24), n1 = v128.load32_splat(matrix + 28), n2 = v128.load32_splat(matrix + 32);
  const n3 = v128.load32_splat(matrix + 36), n4 = v128.load32_splat(matrix + 40), n5 = v128.load32_splat(matrix + 44);
  const o0 = v128.load32_splat(matrix + 48), o1 = v128.load32_splat(matrix + 52), o2 = v128.load32_splat(matrix + 56);
  const o3 = v128.load32_splat(matrix + 60), o4 = v128.load32_splat(matrix + 64), o5 = v128.load32_splat(matrix + 68);
  const zero = i32x4.splat(0);
  for (let i = 0; i < pixels; i += 4) {
    const at = <usize>i << 2;
    const l = v128.load(left + at), r = v128.load(right + at);
    const lr = v128.and(l, byte), lg = v128.and(i32x4.shr_u(l, 8), byte), lb = v128.and(i32x4.shr_u(l, 16), byte);
    const rr = v128.and(r, byte), rg = v128.and(i32x4.shr_u(r, 8), byte), rb = v128.and(i32x4.shr_u(r, 16), byte);
    let red = i32x4.add(i32x4.add(i32x4.mul(lr, m0), i32x4.mul(lg, m1)), i32x4.mul(lb, m2));
    red = i32x4.add(red, i32x4.add(i32x4.add(i32x4.mul(rr, m3), i32x4.mul(rg, m4)), i32x4.mul(rb, m5)));
    let green = i32x4.add(i32x4.add(i32x4.mul(lr, n0), i32x4.mul(lg, n1)), i32x4.mul(lb, n2));
    green = i32x4.add(green, i32x4.add(i32x4.add(i32x4.mul(rr, n3), i32x4.mul(rg, n4)), i32x4.mul(rb, n5)));
    let blue = i32x4.add(i32x4.add(i32x4.mul(lr, o0), i32x4.mul(lg, o1)), i32x4.mul(lb, o2));
    blue = i32x4.add(blue, i32x4.add(i32x4.add(i32x4.mul(rr, o3), i32x4.mul(rg, o4)), i32x4.mul(rb, o5)));
    red = i32x4.min_s(i32x4.max_s(i32x4.shr_s(red, 16), zero), byte);
    green = i32x4.min_s(i32x4.max_s(i32x4.shr_s(green, 16), zero), byte);
    blue = i32x4.min_s(i32x4.max_s(i32x4.shr_s(blue, 16), zero), byte);
    // Alpha: the more covered of the two eyes, so that a pixel seen by either eye is kept.
    const alpha = i32x4.max_u(i32x4.shr_u(l, 24), i32x4.shr_u(r, 24));
    v128.store(out + at, v128.or(v128.or(red, i32x4.shl(green, 8)), v128.or(i32x4.shl(blue, 16), i32x4.shl(alpha, 24))));
  }
}
