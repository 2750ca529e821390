// Edge pixels (edges.ts) in a row of a view: what lies behind them takes their place in the picture, and what stands in front is
// drawn over the finished row as strips (AssemblyScript, compiled to WASM SIMD).

import { ALPHA, BEHIND, CLEAN, EDGE_BYTES, FAR, FRONT, NEAR } from './edges';
import { colour, putColour } from './pixel';

/** What falls on a revealed pixel: it is drawn when that is filled. */
export const FRAGMENT_BYTES: usize = 16;

/**
 * Puts what lies behind the edge pixels of a band's row y in their place. starts: where each row's edges begin; index: the edge
 * of each column (a pointer), 0 elsewhere and in the column after the last; left: the row's first column, counted as theirs.
 */
export function stepBack(
  edges: usize, starts: usize, y: i32, left: i32, src: usize, line: usize, index: usize, sampleBytes: i32,
): void {
  // What stood there two rows before is gone.
  if (y > 1) {
    for (let k = first(starts, y - 2); k < first(starts, y - 1); k++)
      store<u32>(index + (<usize>(load<i32>(edges + <usize>k * EDGE_BYTES) - left) << 2), 0);
  }
  for (let k = first(starts, y); k < first(starts, y + 1); k++) {
    const edge = edges + <usize>k * EDGE_BYTES;
    const x = <usize>(load<i32>(edge) - left);
    store<u16>(line + (x << 1), load<u16>(edge + FAR));
    if (sampleBytes == 4) store<u32>(src + (x << 2), load<u32>(edge + BEHIND));
    else store<u64>(src + (x << 3), load<u64>(edge + BEHIND));
    store<u32>(index + (x << 2), <u32>edge);
  }
}

/** Number of a row's first edge. */
// @ts-ignore: decorator
@inline
function first(starts: usize, y: i32): i32 { return load<i32>(starts + (<usize>y << 2)); }

/** Colour of a row at u, in 1/256 px, without what was shared out between front and behind. */
function cleanColour(src: usize, index: usize, u: i32, sampleBytes: i32): v128 {
  const x = <usize>(u >> 8);
  const f: f32 = <f32>(u & 255) / 256;
  const a = cleanPixel(src, index, x, sampleBytes);
  return f == 0 ? a : f32x4.add(a, f32x4.mul(f32x4.sub(cleanPixel(src, index, x + 1, sampleBytes), a), f32x4.splat(f)));
}

// @ts-ignore: decorator
@inline
function cleanPixel(src: usize, index: usize, x: usize, sampleBytes: i32): v128 {
  const edge = <usize>load<u32>(index + (x << 2));
  return colour(edge ? edge + CLEAN : src + x * <usize>sampleBytes, sampleBytes);
}

/** What a membrane is held by at column t of a drawn row: its colour, where it hangs on an edge pixel the clean one. */
// @ts-ignore: decorator
@inline
export function heldColour(src: usize, index: usize, map: usize, out: usize, t: i32, sampleBytes: i32): v128 {
  const u = load<i32>(map + (<usize>t << 2));
  const at = index + (<usize>(u >> 8) << 2);
  // The column after the last one is never an edge.
  return load<u64>(at) == 0 ? colour(out + <usize>(t * sampleBytes), sampleBytes) : cleanColour(src, index, u, sampleBytes);
}

/** A row as a membrane is held by it. */
export function cleanRow(src: usize, index: usize, map: usize, out: usize, to: usize, width: i32, sampleBytes: i32): void {
  for (let t = 0; t < width; t++)
    putColour(to + <usize>(t * sampleBytes), heldColour(src, index, map, out, t, sampleBytes), sampleBytes);
}

// The row that strips are drawn over.
let row: usize = 0, rowMask: usize = 0, rowMap: usize = 0, rowLine: usize = 0;
let rowPixel: u32 = 0, rowWidth: i32 = 0, rowBytes: i32 = 0;
let nearer: i32 = 0, side: i32 = 0, fragments: usize = 0;

/**
 * Draws what stands in front of a row's edges over it, in walk order. What falls on a revealed pixel is appended to `list`.
 * tear: as the row was drawn; jump: so much nearer a px hides it twice; sign: -1 where black is near. pixel: number of the row's
 * first px. Returns the list's new end.
 */
export function drawStrips(
  edges: usize, starts: usize, y: i32, left: i32, src: usize, line: usize, index: usize, shift: usize, map: usize, mask: usize,
  out: usize, width: i32, base: f32, scale: f32, tear: i32, jump: i32, sign: i32, direction: i32, sampleBytes: i32, pixel: u32,
  list: usize,
): usize {
  row = out; rowMask = mask; rowMap = map; rowLine = line; rowPixel = pixel; rowWidth = width; rowBytes = sampleBytes;
  nearer = jump >> 1; side = sign; fragments = list;
  const begin = first(starts, y), end = first(starts, y + 1);
  for (let n = begin; n < end; n++) {
    const edge = edges + <usize>(direction > 0 ? n : begin + end - 1 - n) * EDGE_BYTES;
    const x = load<i32>(edge) - left;
    const at = placeOf(edge, x, base, scale);
    if (direction > 0) {
      neighbour(edge, x, at, -1, src, index, shift, base, scale, tear, width, direction);
      neighbour(edge, x, at, 1, src, index, shift, base, scale, tear, width, direction);
    } else {
      neighbour(edge, x, at, 1, src, index, shift, base, scale, tear, width, direction);
      neighbour(edge, x, at, -1, src, index, shift, base, scale, tear, width, direction);
    }
  }
  return fragments;
}

/** Where what stands in front of an edge pixel lands, 1/256 px. */
// @ts-ignore: decorator
@inline
function placeOf(edge: usize, x: i32, base: f32, scale: f32): i32 {
  return (x << 8) + <i32>nearest((base + scale * <f32>load<u16>(edge + NEAR)) * 256);
}

/** The piece of strip between an edge pixel and what lies beside it. */
function neighbour(
  edge: usize, x: i32, at: i32, step: i32, src: usize, index: usize, shift: usize, base: f32, scale: f32, tear: i32, width: i32,
  direction: i32,
): void {
  const depth = <i32>load<u16>(edge + NEAR);
  const alpha = load<f32>(edge + ALPHA);
  const front = frontOf(edge);
  const next = x + step;
  if (next >= 0 && next < width) {
    const beside = <usize>load<u32>(index + (<usize>next << 2));
    if (beside) {
      const there = placeOf(beside, next, base, scale);
      if (abs(there - at - (step << 8)) <= tear) {
        // Joined pieces are drawn once, by the edge that comes first.
        if (step == direction) piece(step, at, there, front, frontOf(beside), alpha, load<f32>(beside + ALPHA), depth);
        return;
      }
    }
    // What lies there, or behind it, goes on as this.
    const there = (next << 8) + load<i32>(shift + (<usize>next << 2));
    if (abs(there - at - (step << 8)) <= tear) {
      piece(step, at, there, front, colour(src + <usize>(next * rowBytes), rowBytes), alpha, 1, depth);
      return;
    }
  }
  piece(step, at, at + (step << 8), front, f32x4.splat(0), alpha, 0, depth);
}

// @ts-ignore: decorator
@inline
function frontOf(edge: usize): v128 {
  const front = f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(v128.load64_zero(edge + FRONT)));
  return rowBytes == 4 ? f32x4.mul(front, f32x4.splat(1 / <f32>256)) : front;
}

/** Draws from `at` to `there`, linear in colour and alpha: with its left end and without its right one. */
function piece(step: i32, at: i32, there: i32, front: v128, other: v128, alpha: f32, otherAlpha: f32, depth: i32): void {
  const low = step > 0 ? at : there, high = step > 0 ? there : at;
  if (high <= low) return;
  for (let t = max((low + 255) >> 8, 0); (t << 8) < high && t < rowWidth; t++) {
    const f: f32 = <f32>abs((t << 8) - at) / <f32>(high - low);
    const a = alpha + (otherAlpha - alpha) * f;
    if (a < 0.002) continue;
    const column = min(rowWidth - 1, (load<i32>(rowMap + (<usize>t << 2)) + 128) >> 8);
    if (side * (<i32>load<u16>(rowLine + (<usize>column << 1)) - depth) > nearer) continue;
    const c = f32x4.add(front, f32x4.mul(f32x4.sub(other, front), f32x4.splat(f)));
    if (load<u8>(rowMask + t)) {
      store<u32>(fragments, rowPixel + <u32>t);
      store<f32>(fragments + 4, a);
      putColour(fragments + 8, rowBytes == 4 ? f32x4.mul(c, f32x4.splat(256)) : c, 8);
      fragments += FRAGMENT_BYTES;
    } else {
      const to = row + <usize>(t * rowBytes);
      putColour(to, f32x4.add(c, f32x4.mul(colour(to, rowBytes), f32x4.splat(1 - a))), rowBytes);
    }
  }
}
