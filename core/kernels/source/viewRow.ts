// One row of a view, in painter's order (AssemblyScript, compiled to WASM SIMD).
//
// Units: every x coordinate is in 1/256 px. A source column x lands at x*256 + shift(x). For a positive factor (an eye to
// the right of the source) nearer columns shift farther left, so walking left to right lets the nearest write last; for a
// negative factor the walk goes right to left. No z-buffer is needed.
// Source: Fehn, "Depth-image-based rendering (DIBR)", SPIE 5291, 2004; the 1-D mesh and the tears are docs/computations.md.

/**
 * Adding and taking away 1.5 * 2^23 rounds a float of less than 2^22 to a whole number, far faster than the conversion
 * that saturates.
 */
const ROUNDER: f32 = 12582912;
const ROUNDER_BITS: i32 = 0x4b400000;
/** Marks a target column that no source column reaches; all bits set, so that a row is marked by filling bytes. */
export const HOLE: i32 = -1;
/**
 * Shift of every column of a row: round((base + scale * depth) * 256), depth 0..65535.
 * The row is padded by the caller so that the last group of eight may be read and written whole.
 */
export function shiftRow(depth: usize, shift: usize, width: i32, base: f32, scale: f32): void {
  const b = f32x4.splat(base * 256 + ROUNDER), s = f32x4.splat(scale * 256), bits = i32x4.splat(ROUNDER_BITS);
  for (let x = 0; x < width; x += 8) {
    const d = v128.load(depth + (<usize>x << 1));
    const lo = f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(d));
    const hi = f32x4.convert_i32x4_u(i32x4.extend_high_i16x8_u(d));
    v128.store(shift + (<usize>x << 2), i32x4.sub(f32x4.add(b, f32x4.mul(s, lo)), bits));
    v128.store(shift + (<usize>x << 2) + 16, i32x4.sub(f32x4.add(b, f32x4.mul(s, hi)), bits));
  }
}
/**
 * Draws one row: where every target column comes from (source x in 1/256 px, HOLE where nothing lands) goes to `map`, and,
 * where `src` is not 0, the sampled RGBA bytes go to `out` in the same walk.
 * Neighbours are joined unless their shifts differ by more than `tear`; at a tear each side reaches half a pixel beyond itself.
 * direction: 1 walks left to right (nearer is farther left), -1 right to left. index: not 0 at columns that are edges
 * (edges.ts): what is nearer beside them ends where it is, for they go on from there.
 */
export function drawRow(
  shift: usize, map: usize, src: usize, out: usize, index: usize, width: i32, tear: i32, direction: i32,
): void {
  memory.fill(map, 0xff, <usize>width << 2);
  const last = width - 1;
  const first = load<i32>(shift), final = (last << 8) + load<i32>(shift + (<usize>last << 2));
  // The outermost columns reach half a pixel outwards; the near one is drawn last.
  if (direction > 0) cap(map, src, out, width, first - 128, first, 0);
  else cap(map, src, out, width, final, final + 128, last << 8);
  // Segment i joins columns i and i + 1; eight at once wherever they lie side by side without a gap or an overlap.
  if (direction > 0) {
    let i = 0;
    while (i < last) {
      if (i + 8 <= last) {
        const n = eightSegments(shift, map, src, out, last, tear, i, true);
        i += n;
        if (n == 8) continue;
        if (i + 8 <= last && !isWide(shift, i, tear) && eightTargets(shift, map, src, out, index, last, tear, i)) {
          i += 8;
          continue;
        }
      }
      // One by one as long as they are too wide, then eight at once again.
      do { segment(shift, map, src, out, index, width, tear, i, true); i++; } while (i < last &&
        (i + 8 > last || isWide(shift, i, tear)));
    }
    cap(map, src, out, width, final, final + 128, last << 8);
  } else {
    let i = last - 1;
    while (i >= 0) {
      if (i >= 7) {
        const n = eightSegments(shift, map, src, out, last, tear, i - 7, false);
        i -= n;
        if (n == 8) continue;
        if (i >= 7 && !isWide(shift, i, tear) && eightTargets(shift, map, src, out, index, last, tear, i - 7)) {
          i -= 8;
          continue;
        }
      }
      do { segment(shift, map, src, out, index, width, tear, i, false); i--; } while (i >= 0 &&
        (i < 7 || isWide(shift, i, tear)));
    }
    cap(map, src, out, width, first - 128, first, 0);
  }
}

/** Whether eight at once cannot hold the segment between columns i and i + 1. */
// @ts-ignore: decorator
@inline
function isWide(shift: usize, i: i32, tear: i32): bool {
  return abs(load<i32>(shift + (<usize>i << 2) + 4) - load<i32>(shift + (<usize>i << 2))) > min(tear, 40);
}

/**
 * Draws of the segments i to i + 7 those that are nearly of unit length and each cover exactly one target column, one
 * after the other: rightwards from the first, or leftwards from the last, up to one that is not so. Returns how many.
 * Works in 16 bits, relative to the first shift.
 * The place inside a segment, along * 256 / (256 + jump), is developed to the second order: the error stays below 1/256 px.
 */
// @ts-ignore: decorator
@inline
function eightSegments(shift: usize, map: usize, src: usize, out: usize, last: i32, tear: i32, i: i32, rightwards: bool): i32 {
  const s = shift + (<usize>i << 2);
  // All hang on the one that is drawn first: its shift counts.
  const s0 = load<i32>(rightwards ? s : s + 28);
  const zero = i32x4.splat(s0);
  const a = i16x8.narrow_i32x4_s(i32x4.sub(v128.load(s), zero), i32x4.sub(v128.load(s + 16), zero));
  const b = i16x8.narrow_i32x4_s(i32x4.sub(v128.load(s + 4), zero), i32x4.sub(v128.load(s + 20), zero));
  const at = (i << 8) + s0;
  const t0 = (at + 255) >> 8;
  if (t0 < 0 || t0 + 7 > last) return 0;
  const jump = i16x8.sub_sat_s(b, a);
  const along = i16x8.sub_sat_s(i16x8.splat(<i16>((t0 << 8) - at)), a);
  const bad = i16x8.bitmask(v128.or(
    v128.or(i16x8.ne(v128.and(along, i16x8.splat(<i16>0xff00)), i16x8.splat(0)),
      i16x8.gt_s(i16x8.abs(jump), i16x8.splat(<i16>min(tear, 40)))),
    v128.or(i16x8.gt_s(along, i16x8.add(jump, i16x8.splat(256))), i16x8.gt_s(jump, along))));
  const n = rightwards ? <i32>ctz(bad | 256) : <i32>clz(bad << 24 | 1 << 23);
  if (n == 0) return 0;
  const p = i16x8.mul(along, jump);
  const f = i16x8.add(
    i16x8.sub(along, i16x8.shr_s(i16x8.add(p, i16x8.splat(128)), 8)),
    i16x8.shr_s(i16x8.add(i16x8.q15mulr_sat_s(p, jump), i16x8.splat(1)), 1));
  const origin = i32x4.splat(i << 8);
  const m = map + (<usize>t0 << 2);
  // Where not all are drawn, what stands in the other columns stays.
  const nth = i16x8(0, 1, 2, 3, 4, 5, 6, 7);
  const mine = rightwards ? i16x8.lt_s(nth, i16x8.splat(<i16>n)) : i16x8.ge_s(nth, i16x8.splat(<i16>(8 - n)));
  const mineLow = i32x4.extend_low_i16x8_s(mine), mineHigh = i32x4.extend_high_i16x8_s(mine);
  put(m, i32x4.add(i32x4.add(origin, i32x4(0, 256, 512, 768)), i32x4.extend_low_i16x8_s(f)), mineLow, n);
  put(m + 16, i32x4.add(i32x4.add(origin, i32x4(1024, 1280, 1536, 1792)), i32x4.extend_high_i16x8_s(f)), mineHigh, n);
  if (src) {
    const from = src + (<usize>i << 2), to = out + (<usize>t0 << 2);
    put(to, blendFour(v128.load(from), v128.load(from + 4), v128.shuffle<u16>(f, f, 0, 0, 0, 0, 1, 1, 1, 1),
      v128.shuffle<u16>(f, f, 2, 2, 2, 2, 3, 3, 3, 3)), mineLow, n);
    put(to + 16, blendFour(v128.load(from + 16), v128.load(from + 20), v128.shuffle<u16>(f, f, 4, 4, 4, 4, 5, 5, 5, 5),
      v128.shuffle<u16>(f, f, 6, 6, 6, 6, 7, 7, 7, 7)), mineHigh, n);
  }
  return n;
}

// @ts-ignore: decorator
@inline
function put(to: usize, v: v128, mine: v128, n: i32): void {
  v128.store(to, n == 8 ? v : v128.bitselect(v, v128.load(to), mine));
}

/**
 * Draws the segments i to i + 7 where they are all joined and nearly of unit length, but a target column may fall into the
 * segment before or after the one of its turn; else draws nothing. Each of eight target columns chooses among the three.
 */
function eightTargets(
  shift: usize, map: usize, src: usize, out: usize, index: usize, last: i32, tear: i32, i: i32,
): bool {
  const s = shift + (<usize>i << 2);
  const s0 = load<i32>(s);
  const at = (i << 8) + s0;
  const t0 = (at + 255) >> 8;
  if (t0 < 0 || t0 + 7 > last) return false;
  const zero = i32x4.splat(s0);
  // How far each node lies from its place in a row of unit segments: before, at, after, and after that.
  const rm = i16x8.narrow_i32x4_s(i32x4.sub(v128.load(s - 4), zero), i32x4.sub(v128.load(s + 12), zero));
  const r0 = i16x8.narrow_i32x4_s(i32x4.sub(v128.load(s), zero), i32x4.sub(v128.load(s + 16), zero));
  const rp = i16x8.narrow_i32x4_s(i32x4.sub(v128.load(s + 4), zero), i32x4.sub(v128.load(s + 20), zero));
  const rq = i16x8.narrow_i32x4_s(i32x4.sub(v128.load(s + 8), zero), i32x4.sub(v128.load(s + 24), zero));
  const e = i16x8.splat(<i16>((t0 << 8) - at)), unit = i16x8.splat(256), none = i16x8.splat(0);
  const limit = i16x8.splat(<i16>min(tear, 40));
  const a0 = i16x8.sub_sat_s(e, r0);
  const after = i16x8.sub_sat_s(i16x8.sub_sat_s(e, rp), unit);
  const isBefore = i16x8.lt_s(a0, none), isAfter = i16x8.gt_s(after, none);
  const along = v128.bitselect(i16x8.add_sat_s(i16x8.sub_sat_s(e, rm), unit), v128.bitselect(after, a0, isAfter), isBefore);
  const across = i16x8.sub_sat_s(rp, r0);
  const jump = v128.bitselect(i16x8.sub_sat_s(r0, rm), v128.bitselect(i16x8.sub_sat_s(rq, rp), across, isAfter), isBefore);
  const bad = v128.or(
    v128.or(i16x8.gt_s(i16x8.abs(across), limit), i16x8.gt_s(i16x8.abs(jump), limit)),
    v128.or(i16x8.lt_s(along, none), i16x8.gt_s(along, i16x8.add_sat_s(jump, unit))));
  if (v128.any_true(bad)) return false;
  const p = i16x8.mul(along, jump);
  const f = i16x8.add(
    i16x8.sub(along, i16x8.shr_s(i16x8.add(p, i16x8.splat(128)), 8)),
    i16x8.shr_s(i16x8.add(i16x8.q15mulr_sat_s(p, jump), i16x8.splat(1)), 1));
  const step = i16x8.add(f, v128.bitselect(i16x8.splat(-256), v128.and(unit, isAfter), isBefore));
  const origin = i32x4.splat(i << 8);
  const m = map + (<usize>t0 << 2);
  v128.store(m, i32x4.add(i32x4.add(origin, i32x4(0, 256, 512, 768)), i32x4.extend_low_i16x8_s(step)));
  v128.store(m + 16, i32x4.add(i32x4.add(origin, i32x4(1024, 1280, 1536, 1792)), i32x4.extend_high_i16x8_s(step)));
  if (src) {
    const from = src + (<usize>i << 2), to = out + (<usize>t0 << 2);
    sampleFour(from, to, i32x4.extend_low_i16x8_s(isBefore), i32x4.extend_low_i16x8_s(isAfter),
      v128.shuffle<u16>(f, f, 0, 0, 0, 0, 1, 1, 1, 1), v128.shuffle<u16>(f, f, 2, 2, 2, 2, 3, 3, 3, 3));
    sampleFour(from + 16, to + 16, i32x4.extend_high_i16x8_s(isBefore), i32x4.extend_high_i16x8_s(isAfter),
      v128.shuffle<u16>(f, f, 4, 4, 4, 4, 5, 5, 5, 5), v128.shuffle<u16>(f, f, 6, 6, 6, 6, 7, 7, 7, 7));
  }
  // Where the eight are stretched over a ninth column, it lies in the last two.
  if (((t0 + 8) << 8) <= ((i + 8) << 8) + load<i32>(s + 32)) {
    for (let n = i + 6; n < i + 8; n++) segment(shift, map, src, out, index, last + 1, tear, n, true);
  }
  return true;
}

/** Four target columns, each from its own source column, the one before or the one after. */
// @ts-ignore: decorator
@inline
function sampleFour(from: usize, to: usize, isBefore: v128, isAfter: v128, fLow: v128, fHigh: v128): void {
  const b = v128.load(from - 4), h = v128.load(from), n = v128.load(from + 4), a = v128.load(from + 8);
  v128.store(to, blendFour(v128.bitselect(b, v128.bitselect(n, h, isAfter), isBefore),
    v128.bitselect(h, v128.bitselect(a, n, isAfter), isBefore), fLow, fHigh));
}

/** a + (b - a) * f for sixteen bytes, f 0 to 256: modulo 2^16, which the end result never leaves. */
// @ts-ignore: decorator
@inline
function blendFour(a: v128, b: v128, fLow: v128, fHigh: v128): v128 {
  const half = i16x8.splat(128);
  const al = i16x8.extend_low_i8x16_u(a), ah = i16x8.extend_high_i8x16_u(a);
  const lo = i16x8.add(i16x8.add(i16x8.shl(al, 8), half), i16x8.mul(i16x8.sub(i16x8.extend_low_i8x16_u(b), al), fLow));
  const hi = i16x8.add(i16x8.add(i16x8.shl(ah, 8), half), i16x8.mul(i16x8.sub(i16x8.extend_high_i8x16_u(b), ah), fHigh));
  return i8x16.narrow_i16x8_u(i16x8.shr_u(lo, 8), i16x8.shr_u(hi, 8));
}

/** Draws the one segment between columns i and i + 1, joined or torn. */
// @ts-ignore: decorator
@inline
function segment(
  shift: usize, map: usize, src: usize, out: usize, index: usize, width: i32, tear: i32, i: i32, rightwards: bool,
): void {
  const sa = load<i32>(shift + (<usize>i << 2)), sb = load<i32>(shift + (<usize>i << 2) + 4);
  const low = (i << 8) + sa, high = ((i + 1) << 8) + sb;
  if (abs(sb - sa) <= tear) {
    const length = high - low;
    if (length <= 0) return; // folded behind the nearer part, which is drawn later
    let t = max((low + 255) >> 8, 0);
    const t1 = min(high >> 8, width - 1);
    for (; t <= t1; t++) write(map, src, out, t, (i << 8) + <i32>nearest(<f32>(((t << 8) - low) << 8) / <f32>length));
    return;
  }
  // The nearer side is the one that has moved farther against the walk.
  const nearIsRight = rightwards == sb < sa;
  const at = index + (<usize>i << 2);
  const left = nearIsRight || load<u32>(at + 4) == 0 ? 128 : 0, right = !nearIsRight || load<u32>(at) == 0 ? 128 : 0;
  if (rightwards) cap(map, src, out, width, low, low + left, i << 8);
  cap(map, src, out, width, high - right, high, (i + 1) << 8);
  if (!rightwards) cap(map, src, out, width, low, low + left, i << 8);
}

/** Writes a source coordinate to the target column whose centre lies in [from, to], if there is one; to - from < 256. */
// @ts-ignore: decorator
@inline
function cap(map: usize, src: usize, out: usize, width: i32, from: i32, to: i32, u: i32): void {
  const t = (from + 255) >> 8;
  if (t >= 0 && t < width && (t << 8) <= to) write(map, src, out, t, u);
}

/** One target column: its coordinate and, where asked for, its bytes. */
// @ts-ignore: decorator
@inline
export function write(map: usize, src: usize, out: usize, t: i32, u: i32): void {
  store<i32>(map + (<usize>t << 2), u);
  if (src) {
    const four = tap8(src, u);
    const words = i16x8.narrow_i32x4_s(four, four);
    v128.store32_lane(out + (<usize>t << 2), i8x16.narrow_i16x8_u(words, words), 0);
  }
}

// @ts-ignore: decorator
@inline
export function tap8(src: usize, u: i32): v128 {
  const f = u & 255;
  const two = v128.load64_zero(src + (<usize>(u >> 8) << 2));
  const paired = i16x8.extend_low_i8x16_u(v128.shuffle<u8>(two, two, 0, 4, 1, 5, 2, 6, 3, 7, 0, 4, 1, 5, 2, 6, 3, 7));
  return i32x4.shr_u(i32x4.add(i32x4.dot_i16x8_s(paired, i32x4.splat((f << 16) | (256 - f))), i32x4.splat(128)), 8);
}
