// "Over" for premultiplied pictures, RGBA with 8 or 16 bits a channel. What is covered half or more takes over the upper
// picture's mark of what is revealed.
// Source: Porter and Duff, "Compositing digital images", SIGGRAPH 1984.

/**
 * Lays `count` pixels of `upper` over those of `under`. upperMask and underMask: a byte a pixel, 255 or 0; 0 for none.
 * sampleBytes 4: RGBA8, 8: RGBA16. Returns by how many pixels more the lower one's mask is set.
 */
export function overRows(upper: usize, under: usize, upperMask: usize, underMask: usize, count: i32, sampleBytes: i32): i32 {
  let bits = 0, i = 0;
  if (sampleBytes == 4) {
    const whole = i32x4.splat(0xff000000);
    // Most of a plate is clear or whole: four at once.
    while (i + 4 <= count) {
      const at = <usize>i << 2;
      const v = v128.load(upper + at), alpha = v128.and(v, whole);
      if (!v128.any_true(alpha)) { i += 4; continue; }
      if (i32x4.all_true(i32x4.eq(alpha, whole))) {
        v128.store(under + at, v);
        if (upperMask) {
          const shows = load<u32>(upperMask + i), showed = load<u32>(underMask + i);
          store<u32>(underMask + i, shows);
          bits += <i32>popcnt(shows) - <i32>popcnt(showed);
        }
        i += 4;
        continue;
      }
      for (const end = i + 4; i < end; i++) bits += overPixel8(upper, under, upperMask, underMask, i);
    }
    for (; i < count; i++) bits += overPixel8(upper, under, upperMask, underMask, i);
  } else {
    for (; i < count; i++) bits += overPixel16(upper, under, upperMask, underMask, i);
  }
  return bits >> 3;
}

function overPixel8(upper: usize, under: usize, upperMask: usize, underMask: usize, i: i32): i32 {
  const a = upper + (<usize>i << 2), b = under + (<usize>i << 2);
  const alpha = <u32>load<u8>(a + 3);
  if (alpha == 0) return 0;
  for (let c: usize = 0; c < 4; c++) {
    // v / 255, rounded: exact for products of two bytes.
    const v = <u32>load<u8>(b + c) * (255 - alpha) + 128;
    store<u8>(b + c, <u8>min<u32>(255, <u32>load<u8>(a + c) + ((v + (v >> 8)) >> 8)));
  }
  return alpha >= 128 ? takeMark(upperMask, underMask, i) : 0;
}

function overPixel16(upper: usize, under: usize, upperMask: usize, underMask: usize, i: i32): i32 {
  const a = upper + (<usize>i << 3), b = under + (<usize>i << 3);
  const alpha = <u32>load<u16>(a + 6);
  if (alpha == 0) return 0;
  for (let c: usize = 0; c < 8; c += 2) {
    // v / 65535, rounded: exact for products of two words, which with what is added stay below 2^32.
    const v = <u32>load<u16>(b + c) * (65535 - alpha) + 32768;
    store<u16>(b + c, <u16>min<u32>(65535, <u32>load<u16>(a + c) + ((v + (v >> 16)) >> 16)));
  }
  return alpha >= 32768 ? takeMark(upperMask, underMask, i) : 0;
}

/** How many bits more are set in the lower mask. */
// @ts-ignore: decorator
@inline
function takeMark(upperMask: usize, underMask: usize, i: i32): i32 {
  if (!upperMask) return 0;
  const shows = load<u8>(upperMask + i), showed = load<u8>(underMask + i);
  store<u8>(underMask + i, shows);
  return <i32>popcnt<u32>(shows) - <i32>popcnt<u32>(showed);
}
