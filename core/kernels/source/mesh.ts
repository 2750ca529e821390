// A surface seen from a camera that has moved: its pixels' mesh is drawn into a map of where every target pixel comes from
// (AssemblyScript, compiled to WASM SIMD). Colours are sampled once, from the finished map (sampleMap.ts).
//
// A raster pixel (x, y) with inverse distance w lands at p ~ M (x, y, 1) - w e. The map holds three planes of f32: where a
// target pixel
// comes from (x, y), and its rank: 0 and more the inverse distance from the moved camera (the nearer wins); -1 to 0 what a tear
// opens,
// drawn from its farther side; -3 to -2 what lies beyond the surface's border, its outermost pixels going on; EMPTY where
// nothing lands.
// Source: docs/computations.md, A camera through the picture.

import { piece } from './meshPiece';
import { heedEdges, QUARTER, quads } from './meshQuads';
import { aimAt } from './meshTarget';

export const EMPTY: f32 = -4;
/** Side of a cell, px. Cells that are not planar are looked at in quarters. */
const CELL: i32 = 8;

/** Marks the whole map as empty. */
export function clearMap(map: usize, count: i32): void {
  const none = f32x4.splat(EMPTY);
  const ranks = map + (<usize>count << 3);
  for (let i = 0; i < count; i += 4) v128.store(ranks + (<usize>i << 2), none);
}

/**
 * Draws a surface into rows of the map.
 * @param depth u16 of every pixel
 * @param pixels RGBA, so that what is wholly clear is left out; 0: all is drawn
 * @param cells of 8 x 8 pixels, row by row, each f32: a, b, c of the plane a + b x + c y through its depths (x, y from its
 * upper left
 *   corner) and how far they stray from it; less than 0: nothing shows
 * @param quarters the same of 4 x 4 pixels
 * @param camera f32: M row by row, then e
 * @param near, far inverse distances of depth 65535 and 0
 * @param planar how far depths may stray for a cell to be drawn in one piece
 * @param edges not 0 at pixels that are edges (moveStrips.ts): what is nearer beside them ends where it is; 0: there are none
 * @param tear depth step beyond which neighbours are not joined
 * @param goOn whether the outermost pixels go on beyond the border
 * @param map three planes of f32, width x (end - top)
 */
export function drawMesh(
  depth: usize, pixels: usize, bytes: i32, width: i32, height: i32, cells: usize, quarters: usize,
  camera: usize, near: f32, far: f32, planar: f32, edges: usize, tear: i32, goOn: i32,
  map: usize, mapWidth: i32, top: i32, end: i32,
): void {
  aimAt(camera, near, far, width, height, pixels != 0, map, mapWidth, top, end);
  heedEdges(edges, width);
  const across = (width + CELL - 1) / CELL, down = (height + CELL - 1) / CELL;
  const finer = (width + QUARTER - 1) / QUARTER;
  let cell = cells;
  for (let r = 0; r < down; r++) {
    for (let c = 0; c < across; c++, cell += 16) {
      const strays = load<f32>(cell, 12);
      if (strays < 0) continue;
      const edge = goOn != 0 && (r == 0 || c == 0 || r == down - 1 || c == across - 1);
      if (strays <= planar && !edge) { piece(cell, c * CELL, r * CELL, CELL, width, height); continue; }
      // Where no quarter is planar the whole cell is one piece of work.
      if (!edge && c < across - 1 && r < down - 1 && rough(quarters, finer, c, r, planar)) {
        quads(depth, pixels, bytes, width, height, c * CELL, r * CELL, CELL, tear, goOn != 0);
        continue;
      }
      for (let q = 0; q < 4; q++) {
        const x = c * CELL + (q & 1) * QUARTER, y = r * CELL + (q >> 1) * QUARTER;
        if (x >= width || y >= height) continue;
        const part = quarters + <usize>(((y >> 2) * finer + (x >> 2)) << 4);
        const partStrays = load<f32>(part, 12);
        if (partStrays < 0) continue;
        if (partStrays <= planar && !edge) piece(part, x, y, QUARTER, width, height);
        else quads(depth, pixels, bytes, width, height, x, y, QUARTER, tear, goOn != 0);
      }
    }
  }
}

/** Whether something shows in all quarters of a cell, and none of them is planar. */
// @ts-ignore: decorator
@inline
function rough(quarters: usize, finer: i32, c: i32, r: i32, planar: f32): bool {
  const at = quarters + (<usize>((r << 1) * finer + (c << 1)) << 4);
  const below = at + (<usize>finer << 4);
  const least = min(min(load<f32>(at, 12), load<f32>(at, 28)), min(load<f32>(below, 12), load<f32>(below, 28)));
  return least > planar;
}
