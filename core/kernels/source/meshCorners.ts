// Corners of the part of a surface's mesh that is being drawn quad by quad (meshQuads.ts): at most 8 + 1 each way, and two beyond
// each border: where they lie in the raster and in the target.

import { beyondPx } from './meshTarget';

/** A quad that strays less from a parallelogram is drawn as one, px. */
export const SKEW: f32 = 0.02;
/** A row of corners has room for so many. */
export const SLOTS: i32 = 16;
export const xs = memory.data(64), ixs = memory.data(64), ys = memory.data(64), iys = memory.data(64);
export const px = memory.data(1024), py = memory.data(1024), rank = memory.data(1024), front = memory.data(1024);
export const deep = memory.data(1024), clear = memory.data(1024);

/** Where corners lie along one side: its pixels, half a pixel more at the border, and far beyond it. */
export function places(at: usize, index: usize, start: i32, side: i32, size: i32, goOn: bool): i32 {
  let n = 0;
  if (start == 0) {
    if (goOn) n = place(at, index, n, -beyondPx, 0);
    n = place(at, index, n, -0.5, 0);
  }
  const end = min(start + side, size - 1);
  for (let k = start; k <= end; k++) n = place(at, index, n, <f32>k, k);
  if (start + side >= size) {
    n = place(at, index, n, <f32>(size - 1) + 0.5, size - 1);
    if (goOn) n = place(at, index, n, <f32>(size - 1) + beyondPx, size - 1);
  }
  return n;
}

// @ts-ignore: decorator
@inline
export function place(at: usize, index: usize, n: i32, x: f32, k: i32): i32 {
  store<f32>(at + (<usize>n << 2), x);
  store<i32>(index + (<usize>n << 2), k);
  return n + 1;
}

// @ts-ignore: decorator
@inline
export function isClear(pixels: usize, bytes: i32, i: usize): i32 {
  return (bytes == 8 ? <i32>load<u16>(pixels + (i << 3) + 6) : <i32>load<u8>(pixels + (i << 2) + 3)) == 0 ? 1 : 0;
}
