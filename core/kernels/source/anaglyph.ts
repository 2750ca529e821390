// Mixes two RGBA pictures into an anaglyph with a 3 x 6 matrix, floor, clipped, four pixels a turn. FFmpeg's stereo3d filter
// does the same with 16 bits behind the point; 14 bits fit 16-bit products, which are twice as fast, and are never more than
// 1 of 255 away (six roundings of at most 255 / 2^15 each can move a sum over one whole number, not two).

/**
 * matrix: for red, green and blue three v128 of pairs of i16 (four times the same pair), 14 bits behind the point:
 * (left r, left g), (left b, right b), (right r, right g). pixels: a multiple of 4 (the caller pads).
 */
export function mixAnaglyph(left: usize, right: usize, out: usize, pixels: i32, matrix: usize): void {
  const r0 = v128.load(matrix), r1 = v128.load(matrix + 16), r2 = v128.load(matrix + 32);
  const g0 = v128.load(matrix + 48), g1 = v128.load(matrix + 64), g2 = v128.load(matrix + 80);
  const b0 = v128.load(matrix + 96), b1 = v128.load(matrix + 112), b2 = v128.load(matrix + 128);
  // Bytes to pairs of 16 bits: r beside g of four pixels; an index with its upper bit set gives 0.
  const pairs = i8x16(0, -128, 1, -128, 4, -128, 5, -128, 8, -128, 9, -128, 12, -128, 13, -128);
  const blues = i32x4.splat(0x00ff0000);
  for (let i = 0; i < pixels; i += 4) {
    const at = <usize>i << 2;
    const l = v128.load(left + at), r = v128.load(right + at);
    const lrg = i8x16.swizzle(l, pairs), rrg = i8x16.swizzle(r, pairs);
    const bb = v128.or(i32x4.shr_u(v128.and(l, blues), 16), v128.and(r, blues));
    const red = i32x4.shr_s(i32x4.add(i32x4.add(i32x4.dot_i16x8_s(lrg, r0), i32x4.dot_i16x8_s(bb, r1)),
      i32x4.dot_i16x8_s(rrg, r2)), 14);
    const green = i32x4.shr_s(i32x4.add(i32x4.add(i32x4.dot_i16x8_s(lrg, g0), i32x4.dot_i16x8_s(bb, g1)),
      i32x4.dot_i16x8_s(rrg, g2)), 14);
    const blue = i32x4.shr_s(i32x4.add(i32x4.add(i32x4.dot_i16x8_s(lrg, b0), i32x4.dot_i16x8_s(bb, b1)),
      i32x4.dot_i16x8_s(rrg, b2)), 14);
    // Alpha: the more covered of the two eyes, so that a pixel seen by either eye is kept.
    const alpha = i32x4.shr_u(i8x16.max_u(l, r), 24);
    const planes = i8x16.narrow_i16x8_u(i16x8.narrow_i32x4_s(red, green), i16x8.narrow_i32x4_s(blue, alpha));
    v128.store(out + at, i8x16.swizzle(planes, i8x16(0, 4, 8, 12, 1, 5, 9, 13, 2, 6, 10, 14, 3, 7, 11, 15)));
  }
}
