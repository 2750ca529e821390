// The pixels beside every jump of depth, each parted into what stands in front and what lies behind it
// (AssemblyScript, compiled to WASM SIMD).
//
// Photographed edges are mixed: C = alpha F + (1 - alpha) B. F and B are looked for in the 5 x 5 px around, alpha from them and
// from how much of its surroundings is near, and what is then still missing of C is shared out between the two.
// Source: Zitnick et al., "High-quality video view interpolation using a layered representation", SIGGRAPH 2004; the
// figures are docs/computations.md, Edges in views.
//
// An edge pixel takes 40 bytes: 0 column, counted from the first that holds anything (i32) | 4 near depth | 6 far depth (u16) |
// 8 alpha (f32) | 12 how much the membrane is held up and down beside it (f32) | 16 alpha F, four u16: samples, of 8 bits 256
// times as fine | 24 B, 32 B before anything was shared out, four u16: samples.

import { colour, putColour } from './pixel';

export const EDGE_BYTES: usize = 40;
export const NEAR: usize = 4, FAR: usize = 6, ALPHA: usize = 8, HOLD: usize = 12, FRONT: usize = 16, BEHIND: usize = 24,
  CLEAN: usize = 32;

/** A neighbour is farther: this is the near side's outermost pixel. A neighbour is nearer: the far side's. */
const INNER: u8 = 1, OUTER: u8 = 2;
/** So uncertain are colours, of 255, and what the surroundings say of alpha: one over their squares. */
const COLOUR: f32 = 1 / 100, PRIOR: f32 = 1 / (0.15 * 0.15);
/** Weights exp(-r^2 / 2.5) of r^2 0, 1, 2, 4, 5, 8. */
const R0: f32 = 1, R1: f32 = 0.67032, R2: f32 = 0.449329, R4: f32 = 0.201897, R5: f32 = 0.135335, R8: f32 = 0.0407622;
const WEIGHTS: StaticArray<f32> = [
  R8, R5, R4, R5, R8,
  R5, R2, R1, R2, R5,
  R4, R1, R0, R1, R4,
  R5, R2, R1, R2, R5,
  R8, R5, R4, R5, R8,
];
/** Rows above and below a pixel of which it may depend. */
const AROUND: i32 = 4;

/**
 * Marks the edge pixels of rows `first` to `end`, and of two more above and below. Returns how many those asked for have.
 *
 * depth: rows `top` and on of the picture, of `width` columns; it goes on for AROUND rows beyond those asked for, or up to row 0
 * or `height`. Columns from `left` to `right` hold something; the others have no part.
 * What is clear has no edges: a plate's matte has parted them. limit: jump of depth between neighbours from which they are edges;
 * flip: 0xffff where black is near, else 0.
 * src: the picture's pixels, of the same rows as its depth. marks: a byte for each of these px, and 16 more.
 */
export function markEdges(
  src: usize, depth: usize, marks: usize, width: i32, height: i32, top: i32, first: i32, end: i32, left: i32, right: i32,
  limit: i32, flip: i32, sampleBytes: i32,
): i32 {
  for (let y = max(first - 2, 0); y < min(end + 2, height); y++)
    markRow(src, depth, marks, width, height, top, y, left, right, limit, flip, sampleBytes);
  let count = 0;
  for (let i = (first - top) * width; i < (end - top) * width; i++) count += <i32>(load<u8>(marks + <usize>i) != 0);
  return count;
}

/**
 * Parts what was marked, with the same arguments, and appends it to `list`, row after row.
 * starts: i32 for each row and one more, where in the list it begins.
 */
export function partEdges(
  src: usize, depth: usize, marks: usize, width: i32, height: i32, top: i32, first: i32, end: i32, left: i32, right: i32,
  limit: i32, flip: i32, sampleBytes: i32, starts: usize, list: usize,
): void {
  let k = 0;
  for (let y = first; y < end; y++) {
    store<i32>(starts + (<usize>(y - first) << 2), k);
    const row = marks + <usize>((y - top) * width);
    let x = left;
    while (x < right) {
      if (x + 8 <= right && load<u64>(row + x) == 0) { x += 8; continue; }
      if (load<u8>(row + x)) {
        part(list + <usize>k * EDGE_BYTES, src, depth, marks, width, height, top, x, y, left, right, limit, flip, sampleBytes);
        k++;
      }
      x++;
    }
  }
  store<i32>(starts + (<usize>(end - first) << 2), k);
}

/** Depth that grows towards the eye. */
// @ts-ignore: decorator
@inline
function near(at: usize, flip: i32): i32 { return <i32>load<u16>(at) ^ flip; }

function markRow(
  src: usize, depth: usize, marks: usize, width: i32, height: i32, top: i32, y: i32, left: i32, right: i32, limit: i32, flip: i32,
  sampleBytes: i32,
): void {
  const line = <usize>width << 1;
  const row = depth + <usize>(y - top) * line;
  const above = y > 0 ? row - line : row, below = y < height - 1 ? row + line : row;
  const to = marks + <usize>(y - top) * <usize>width;
  memory.fill(to, 0, width);
  const most = i16x8.splat(<i16>limit);
  // The outermost columns stay whole: beyond the picture's border they go on, front and behind.
  let x = left + 1;
  for (; x + 8 < right; x += 8) {
    const at = <usize>x << 1;
    const a = v128.load(row + at - 2), b = v128.load(row + at + 2), c = v128.load(above + at), d = v128.load(below + at);
    const own = v128.load(row + at);
    let high = i16x8.max_u(i16x8.max_u(a, b), i16x8.max_u(c, d)), low = i16x8.min_u(i16x8.min_u(a, b), i16x8.min_u(c, d));
    let outer = i16x8.gt_u(i16x8.sub_sat_u(high, own), most), inner = i16x8.gt_u(i16x8.sub_sat_u(own, low), most);
    if (flip) { const was = outer; outer = inner; inner = was; }
    if (!v128.any_true(v128.or(outer, inner))) continue;
    const mark = v128.bitselect(i16x8.splat(OUTER), v128.and(inner, i16x8.splat(INNER)), outer);
    v128.store64_lane(to + x, i8x16.narrow_i16x8_u(mark, mark), 0);
  }
  for (; x < right - 1; x++) markPixel(row, row - 2, row + 2, above, below, to, x, limit, flip);
  const pixels = src + <usize>((y - top) * width) * <usize>sampleBytes;
  const up: i32 = y > 0 ? -width : 0, down: i32 = y < height - 1 ? width : 0;
  for (x = left; x < right; x++) {
    if (x + 8 <= right && load<u64>(to + x) == 0) { x += 7; continue; }
    if (load<u8>(to + x) == 0) continue;
    if (isClear(pixels, x, sampleBytes)) { store<u8>(to + x, 0); continue; }
    const a = isClear(pixels, x - 1, sampleBytes), b = isClear(pixels, x + 1, sampleBytes);
    const c = isClear(pixels, x + up, sampleBytes), d = isClear(pixels, x + down, sampleBytes);
    if (!(a || b || c || d)) continue;
    markPixel(row, a ? row : row - 2, b ? row : row + 2, c ? row : above, d ? row : below, to, x, limit, flip);
  }
}

/** Whether the px of a row that begins at `pixels` has no coverage. */
// @ts-ignore: decorator
@inline
function isClear(pixels: usize, x: i32, sampleBytes: i32): bool {
  const alpha = pixels + <usize>(x * sampleBytes);
  return sampleBytes == 4 ? load<u8>(alpha + 3) == 0 : load<u16>(alpha + 6) == 0;
}

/** Marks a px by its four neighbours: each given as the row that it is the px x of. */
function markPixel(
  row: usize, before: usize, after: usize, above: usize, below: usize, to: usize, x: i32, limit: i32, flip: i32,
): void {
  const at = <usize>x << 1;
  const own = near(row + at, flip), a = near(before + at, flip), b = near(after + at, flip);
  const c = near(above + at, flip), d = near(below + at, flip);
  const high = max(max(a, b), max(c, d)), low = min(min(a, b), min(c, d));
  store<u8>(to + x, high - own > limit ? OUTER : own - low > limit ? INNER : 0);
}

// @ts-ignore: decorator
@inline
function sumOf(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3);
}

/** Which of eight columns from `first` on hold anything. */
// @ts-ignore: decorator
@inline
function eightWithin(first: i32, left: i32, right: i32): v128 {
  const nth = i16x8(0, 1, 2, 3, 4, 5, 6, 7);
  return v128.and(i16x8.ge_s(nth, i16x8.splat(<i16>max(left - first, 0))),
    i16x8.lt_s(nth, i16x8.splat(<i16>min(right - first, 8))));
}

/** How far depths lie apart. */
// @ts-ignore: decorator
@inline
function apart(a: v128, b: v128): v128 { return v128.or(i16x8.sub_sat_u(a, b), i16x8.sub_sat_u(b, a)); }

/** Of three px side by side, a bit each: how many of 1, 2, 1. */
// @ts-ignore: decorator
@inline
function binomial(bits: i32): i32 { return (bits & 1) + (bits & 2) + (bits >> 2); }

// What the last kind summed up to.
let kindColour: v128 = i32x4(0, 0, 0, 0), kindLeast: v128 = i32x4(0, 0, 0, 0), kindMost: v128 = i32x4(0, 0, 0, 0);
let kindWeight: f32 = 0, kindDepth: f32 = 0;

/** Sums up the px of one kind of the 5 x 5 from `corner` on. */
function sumKind(kind: i32, corner: usize, src: usize, depth: usize, width: i32, flip: i32, sampleBytes: i32): void {
  let sum = f32x4.splat(0), least = f32x4.splat(65535), most = sum;
  let weight: f32 = 0, deep: f32 = 0;
  for (let bits = kind; bits; bits &= bits - 1) {
    const n = ctz(bits);
    const row = n * 52 >> 8;
    const i = corner + <usize>(row * width + n - row * 5);
    const w = unchecked(WEIGHTS[n]);
    const c = colour(src + i * <usize>sampleBytes, sampleBytes);
    sum = f32x4.add(sum, f32x4.mul(c, f32x4.splat(w)));
    least = f32x4.min(least, c); most = f32x4.max(most, c);
    weight += w;
    deep += w * <f32>near(depth + (i << 1), flip);
  }
  kindColour = sum; kindLeast = least; kindMost = most; kindWeight = weight; kindDepth = deep;
}

function part(
  edge: usize, src: usize, depth: usize, marks: usize, width: i32, height: i32, top: i32, x: i32, y: i32, left: i32, right: i32,
  limit: i32, flip: i32, sampleBytes: i32,
): void {
  const here = <usize>((y - top) * width + x);
  const own = near(depth + (here << 1), flip);
  const outer = load<u8>(marks + here) == OUTER;
  let high = own, low = own, isBeside = false;
  if (x > left) { const d = near(depth + (here << 1) - 2, flip); high = max(high, d); low = min(low, d); }
  if (x < right - 1) { const d = near(depth + (here << 1) + 2, flip); high = max(high, d); low = min(low, d); }
  isBeside = outer && high - own > limit;
  if (y > 0) { const d = near(depth + (here - <usize>width << 1), flip); high = max(high, d); low = min(low, d); }
  if (y < height - 1) { const d = near(depth + (here + <usize>width << 1), flip); high = max(high, d); low = min(low, d); }
  let front = outer ? high : own;
  let behind = outer ? own : low;
  const middle = (front + behind) >> 1;

  // Which of the 5 x 5 px are of which kind: a bit each, row after row. What lies at neither side's depth has no part.
  let near0 = 0, nearEdge = 0, far0 = 0, farEdge = 0, prior = 0, priorOf = 0;
  const within = eightWithin(x - 2, left, right);
  const mid = i16x8.splat(<i16>middle), reach = i16x8.splat(<i16>limit);
  const nearOnes = i16x8.splat(<i16>front), farOnes = i16x8.splat(<i16>behind);
  const turn = i16x8.splat(<i16>flip), none = i16x8.splat(0);
  for (let v = max(y - 2, 0); v <= min(y + 2, height - 1); v++) {
    const i = <usize>((v - top) * width + x - 2);
    const d = v128.xor(v128.load(depth + (i << 1)), turn);
    const mark = i16x8.extend_low_i8x16_u(v128.load64_zero(marks + i));
    const isNear = v128.and(i16x8.gt_u(d, mid), within), isFar = v128.andnot(within, isNear);
    const free = i16x8.eq(mark, none);
    const useNear = v128.and(isNear, i16x8.le_u(apart(d, nearOnes), reach));
    const useFar = v128.and(isFar, i16x8.le_u(apart(d, farOnes), reach));
    const at = (v - y + 2) * 5;
    near0 |= (i16x8.bitmask(v128.and(useNear, free)) & 31) << at;
    nearEdge |= (i16x8.bitmask(v128.and(useNear, i16x8.eq(mark, i16x8.splat(INNER)))) & 31) << at;
    far0 |= (i16x8.bitmask(v128.and(useFar, free)) & 31) << at;
    farEdge |= (i16x8.bitmask(v128.and(useFar, i16x8.eq(mark, i16x8.splat(OUTER)))) & 31) << at;
    if (abs(v - y) <= 1) {
      const rows = v == y ? 2 : 1;
      prior += rows * binomial(i16x8.bitmask(isNear) >> 1 & 7);
      priorOf += rows * binomial(i16x8.bitmask(within) >> 1 & 7);
    }
  }
  const c = colour(src + here * <usize>sampleBytes, sampleBytes);
  const corner = here - <usize>(2 * width + 2);
  let f = c, b = c, least = c, most = c;
  sumKind(near0 ? near0 : nearEdge, corner, src, depth, width, flip, sampleBytes);
  if (near0 | nearEdge) f = f32x4.div(kindColour, f32x4.splat(kindWeight));
  if (outer && near0) front = <i32>nearest(kindDepth / kindWeight);
  sumKind(far0 ? far0 : farEdge, corner, src, depth, width, flip, sampleBytes);
  if (far0 | farEdge) { b = f32x4.div(kindColour, f32x4.splat(kindWeight)); least = kindLeast; most = kindMost; }
  if (!outer && far0) behind = <i32>nearest(kindDepth / kindWeight);
  if (far0 && farEdge) {
    sumKind(farEdge, corner, src, depth, width, flip, sampleBytes);
    least = f32x4.min(least, kindLeast); most = f32x4.max(most, kindMost);
  }
  putColour(edge + CLEAN, b, sampleBytes);
  const unit: f32 = sampleBytes == 4 ? 1 : 1 / <f32>257;
  const across = f32x4.mul(f32x4.sub(f, b), f32x4.splat(unit)), over = f32x4.mul(f32x4.sub(c, b), f32x4.splat(unit));
  let alpha = (sumOf(f32x4.mul(over, across)) * COLOUR + <f32>prior / <f32>priorOf * PRIOR) /
    (sumOf(f32x4.mul(across, across)) * COLOUR + PRIOR);
  alpha = min<f32>(max<f32>(alpha, 0), 1);
  const rest = f32x4.sub(c, f32x4.add(f32x4.mul(f, f32x4.splat(alpha)), f32x4.mul(b, f32x4.splat(1 - alpha))));
  const shared: f32 = 1 / (alpha * alpha + (1 - alpha) * (1 - alpha));
  const top4 = f32x4.splat(sampleBytes == 4 ? 255 : 65535);
  f = f32x4.min(f32x4.max(f32x4.add(f, f32x4.mul(rest, f32x4.splat(alpha * shared))), f32x4.splat(0)), top4);
  b = f32x4.min(f32x4.max(f32x4.add(b, f32x4.mul(rest, f32x4.splat((1 - alpha) * shared))), least), most);
  // Premultiplied colours are never more than their coverage.
  f = f32x4.min(f, f32x4.splat(f32x4.extract_lane(f, 3)));
  b = f32x4.min(b, f32x4.splat(f32x4.extract_lane(b, 3)));
  store<i32>(edge, x - left);
  store<u16>(edge + NEAR, <u16>(front ^ flip));
  store<u16>(edge + FAR, <u16>(behind ^ flip));
  store<f32>(edge + ALPHA, alpha);
  store<f32>(edge + HOLD, isBeside ? hold(src, depth, width, height, top, x, y, left, right, limit, flip, sampleBytes) : 1);
  putColour(edge + FRONT, f32x4.mul(f, f32x4.splat(sampleBytes == 4 ? alpha * 256 : alpha)), 8);
  putColour(edge + BEHIND, b, sampleBytes);
}

/**
 * How much a membrane beside a pixel is held up and down for 1 from the sides: less where the far side is drawn in level lines.
 * From the squared differences of 8 x 9 px around it, of those of its depth.
 */
function hold(
  src: usize, depth: usize, width: i32, height: i32, top: i32, x: i32, y: i32, left: i32, right: i32, limit: i32, flip: i32,
  sampleBytes: i32,
): f32 {
  const own = i16x8.splat(<i16>near(depth + (<usize>((y - top) * width + x) << 1), flip));
  const most = i16x8.splat(<i16>limit), turn = i16x8.splat(<i16>flip);
  const within = eightWithin(x - AROUND, left, right);
  let across = i32x4.splat(0), down = i32x4.splat(0);
  let same = i16x8.splat(0), low = i32x4.splat(0), high = i32x4.splat(0);
  for (let v = max(y - AROUND, 0), v0 = v; v <= min(y + AROUND, height - 1); v++) {
    const i = <usize>((v - top) * width + x - AROUND);
    const d = v128.xor(v128.load(depth + (i << 1)), turn);
    const isOf = v128.and(within, i16x8.le_u(apart(d, own), most));
    const at = src + i * <usize>sampleBytes;
    const nowLow = four(at, sampleBytes), nowHigh = four(at + 4 * <usize>sampleBytes, sampleBytes);
    // Beside a px lies the next; beside the last nothing.
    const beside = v128.and(isOf, v128.shuffle<u16>(isOf, i16x8.splat(0), 1, 2, 3, 4, 5, 6, 7, 8));
    across = squares(across, nowLow, v128.shuffle<u32>(nowLow, nowHigh, 1, 2, 3, 4), i32x4.extend_low_i16x8_s(beside));
    across = squares(across, nowHigh, v128.shuffle<u32>(nowHigh, nowHigh, 1, 2, 3, 3), i32x4.extend_high_i16x8_s(beside));
    if (v > v0) {
      const above = v128.and(isOf, same);
      down = squares(down, nowLow, low, i32x4.extend_low_i16x8_s(above));
      down = squares(down, nowHigh, high, i32x4.extend_high_i16x8_s(above));
    }
    same = isOf; low = nowLow; high = nowHigh;
  }
  const weight = (<f32>total(across) / 216 + 5) / (<f32>total(down) / 216 + 5);
  return min<f32>(max<f32>(weight, 0.01), 1);
}

/** Four px as bytes. */
// @ts-ignore: decorator
@inline
function four(at: usize, sampleBytes: i32): v128 {
  if (sampleBytes == 4) return v128.load(at);
  return i8x16.narrow_i16x8_u(i16x8.shr_u(v128.load(at), 8), i16x8.shr_u(v128.load(at + 16), 8));
}

/** Adds the squared differences of sixteen bytes where `where` has all bits set. */
// @ts-ignore: decorator
@inline
function squares(sum: v128, a: v128, b: v128, where: v128): v128 {
  const d = v128.and(v128.or(i8x16.sub_sat_u(a, b), i8x16.sub_sat_u(b, a)), where);
  const low = i16x8.extend_low_i8x16_u(d), high = i16x8.extend_high_i8x16_u(d);
  return i32x4.add(sum, i32x4.add(i32x4.dot_i16x8_s(low, low), i32x4.dot_i16x8_s(high, high)));
}

// @ts-ignore: decorator
@inline
function total(v: v128): i32 {
  return i32x4.extract_lane(v, 0) + i32x4.extract_lane(v, 1) + i32x4.extract_lane(v, 2) + i32x4.extract_lane(v, 3);
}
