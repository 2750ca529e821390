// View synthesis, row by row, in painter's order (AssemblyScript, compiled to WASM SIMD).
//
// Units: every x coordinate is in 1/256 px. A source column x lands at x*256 + shift(x). For a positive factor (an eye to
// the right of the source) nearer columns shift farther left, so walking left to right lets the nearest write last; for a
// negative factor the walk goes right to left. No z-buffer is needed.
// Source: Fehn, "Depth-image-based rendering (DIBR)", SPIE 5291, 2004; the 1-D mesh and the tears are docs/computations.md.

import { gatherRow } from './membrane';

import { growNearRow } from './growNear';
import { gatherRow } from './membrane';
import { cleanRow, drawStrips, FRAGMENT_BYTES, stepBack } from './strips';
import { fillRow } from './viewGaps';
import { drawRow, shiftRow } from './viewRow';

/** Samples one row of RGBA with 16 bits a channel at the mapped coordinates, linear between neighbours. */
function sampleRow16(src: usize, map: usize, out: usize, width: i32): void {
  for (let t = 0; t < width; t++) {
    const u = load<i32>(map + (<usize>t << 2));
    const f = u & 255;
    const p = src + (<usize>(u >> 8) << 3);
    const a = i32x4.extend_low_i16x8_u(v128.load64_zero(p)), b = i32x4.extend_low_i16x8_u(v128.load64_zero(p + 8));
    const v = i32x4.shr_u(i32x4.add(i32x4.add(i32x4.mul(a, i32x4.splat(256 - f)), i32x4.mul(b, i32x4.splat(f))),
      i32x4.splat(128)), 8);
    v128.store64_lane(out + (<usize>t << 3), i16x8.narrow_i32x4_u(v, v), 0);
  }
}

/** How many runs the last drawn row had, and the widest of the view so far: kept between the bands of one view. */
let runsBefore: i32 = 0;
let widest: i32 = 0;

/** Width in px of the widest gap in the view drawn last that lies between two known columns or at the border. */
export function widestGap(): i32 { return widest; }

/**
 * Renders `rows` rows of one view, from row y0 of the picture.
 * depth holds a row more above and below; depth, src, out and mask have rows of width without padding: what is read or written
 * past a row's end belongs to the next one, which is drawn later, or to the caller's padding.
 * scratch: 14 blocks of ((width + 31) & ~7) * 4 bytes, kept as they are between the bands of one view.
 * nodes: the membrane's nodes, the next free one is `node`; 0 asks for no membrane.
 * edges: these rows' edge pixels (edges.ts; src changes there), 0 where there are none; starts: i32 for each row and one more,
 * where its edges begin; left: the rows' first column, counted as theirs are. fragments: room for what strips leave to be drawn
 * when the gaps are filled; how much that is stands in its first i32 afterwards, behind 16 bytes the fragments.
 * grow: 1 gives pixels beside a nearer thing to that thing; sign: -1 where black is near. sampleBytes 4: RGBA8, 8: RGBA16.
 * Returns the number of revealed pixels.
 */
export function renderRows(
  src: usize, depth: usize, out: usize, mask: usize, scratch: usize, nodes: usize, node: i32, y0: i32,
  width: i32, rows: i32, base: f32, scale: f32, tear: i32, jump: i32, grow: bool, sign: i32, direction: i32, sampleBytes: i32,
  edges: usize, starts: usize, left: i32, fragments: usize,
): i32 {
  const block = <usize>((width + 31) & ~7) << 2;
  const maps = scratch, lines = maps + 2 * block, indices = lines + 2 * block,
    runs = indices + 2 * block, outKept = runs + 2 * block, edgesOf = outKept + 2 * block, shifts = edgesOf + 2 * block;
  const rowBytes = <usize>(width * sampleBytes);
  let revealed = 0, k = node, above = outKept, fragment = fragments + FRAGMENT_BYTES;
  if (y0 == 0) { runsBefore = 0; widest = 0; memory.fill(indices, 0, 2 * block); }
  memory.fill(edgesOf, 0, 2 * block);
  for (let y = 0; y < rows; y++) {
    // Two rows of everything are held in turns, so that each row finds the one above it.
    const here: usize = (y0 + y) & 1, there: usize = 1 - here;
    const row = depth + (<usize>((y + 1) * width) << 1);
    const line = lines + here * block, map = maps + here * block, gaps = indices + here * block, index = edgesOf + here * block;
    const shift = shifts + here * block;
    const to = out + <usize>y * rowBytes, from = src + <usize>y * rowBytes;
    if (grow) growNearRow(row - (<usize>width << 1), row, row + (<usize>width << 1), line, width, jump);
    else memory.copy(line, row, <usize>width << 1);
    if (edges) stepBack(edges, starts, y, left, from, line, index, sampleBytes);
    shiftRow(line, shift, width, base, scale);
    // Bytes are sampled while the row is drawn; 16 bits a channel in a pass of their own.
    const sampled = sampleBytes == 4 ? from : 0;
    drawRow(shift, map, sampled, to, index, width, tear, direction);
    const runList = runs + here * block, marked = mask + <usize>y * width;
    const count = fillRow(shift, line, map, sampled, to, marked, runList, width, tear, jump, sign, direction);
    if (sampleBytes == 8) sampleRow16(from, map, to, width);
    for (let r = 0; r < count; r++) {
      const gap = load<i32>(runList + (<usize>r << 3) + 4) - load<i32>(runList + (<usize>r << 3));
      revealed += gap;
      widest = max(widest, gap);
    }
    if (nodes) {
      memory.fill(gaps, 0, <usize>width << 2);
      if (count + runsBefore > 0) {
        k = gatherRow(nodes, k, from, from - rowBytes, index, edgesOf + there * block, runList, count, runs + there * block,
          runsBefore, gaps, indices + there * block, to, above, map, maps + there * block, line, lines + there * block,
          y0 + y > 0, width, jump, sign, sampleBytes, <u32>(y0 + y) * <u32>width);
      }
    }
    // A row is drawn over when the next one has been held by it.
    if (edges && y > 0) {
      fragment = drawStrips(edges, starts, y - 1, left, from - rowBytes, lines + there * block, edgesOf + there * block,
        shifts + there * block, maps + there * block, marked - width, above, width, base, scale, tear, jump, sign, direction,
        sampleBytes, <u32>(y0 + y - 1) * <u32>width, fragment);
    }
    runsBefore = count;
    above = to;
  }
  const last: usize = (y0 + rows - 1) & 1;
  const from = src + <usize>(rows - 1) * rowBytes;
  if (nodes && !edges) memory.copy(outKept, above, rowBytes);
  if (edges) {
    cleanRow(from, edgesOf + last * block, maps + last * block, above, outKept, width, sampleBytes);
    fragment = drawStrips(edges, starts, rows - 1, left, from, lines + last * block, edgesOf + last * block,
      shifts + last * block, maps + last * block, mask + <usize>((rows - 1) * width), above, width, base, scale, tear, jump, sign,
      direction, sampleBytes, <u32>(y0 + rows - 1) * <u32>width, fragment);
    store<i32>(fragments, <i32>((fragment - fragments) / FRAGMENT_BYTES) - 1);
  }
  return revealed;
}
