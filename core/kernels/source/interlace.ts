// One row of a lenticular sheet: picks each printed column from its view, and blends two such rows.

/** Blends `count` bytes (a multiple of 16, padded by the caller): out = a + (b - a) * weight / 128, weight 0..128. */
export function blendRows(a: usize, b: usize, out: usize, count: i32, weight: i32): void {
  const wb = i16x8.splat(<i16>weight), wa = i16x8.splat(<i16>(128 - weight)), half = i16x8.splat(64);
  for (let i = 0; i < count; i += 16) {
    const p = v128.load(a + i), q = v128.load(b + i);
    const lo = i16x8.shr_u(i16x8.add(i16x8.add(i16x8.mul(i16x8.extend_low_i8x16_u(p), wa),
      i16x8.mul(i16x8.extend_low_i8x16_u(q), wb)), half), 7);
    const hi = i16x8.shr_u(i16x8.add(i16x8.add(i16x8.mul(i16x8.extend_high_i8x16_u(p), wa),
      i16x8.mul(i16x8.extend_high_i8x16_u(q), wb)), half), 7);
    v128.store(out + i, i8x16.narrow_i16x8_u(lo, hi));
  }
}

/**
 * out: `width` RGB pixels. offsets: for each column the byte offset of its RGB triple in `views` (u32).
 * Writes four bytes a pixel and lets the next one overwrite the fourth, so out needs one spare byte.
 */
export function gatherColumns(views: usize, offsets: usize, out: usize, width: i32): void {
  for (let x = 0; x < width; x++) {
    store<u32>(out, load<u32>(views + load<u32>(offsets)));
    offsets += 4;
    out += 3;
  }
}
