import type { DepthMap } from '../raster/picture';

/** Floats a cell: the plane a + b x + c y through its depths, and how far they stray from it. */
export const CELL_FLOATS = 4;

/**
 * The planes through a depth map's square cells, each with the pixels that it shares with the next, so that cells
 * whose depths hardly stray can be drawn in one piece.
 *
 * @param side of a cell, px
 * @param shows whether anything shows at a pixel; cells where nothing does stray by -1 @default everything shows
 * @returns a, b, c and the greatest distance of every cell, row by row; the last, cut cells stray without limit
 */
export function planarCells(depth: DepthMap, side: 4 | 8, shows?: (pixel: number) => boolean): Float32Array {
  const { width, height, data } = depth;
  const across = Math.ceil(width / side);
  const down = Math.ceil(height / side);
  const cells = new Float32Array(across * down * CELL_FLOATS);
  const corners = side + 1;
  // Of 0 to `side`, from the mean: the sum of squares, for every row or column.
  const spread = corners * ((side * (side + 1) * (2 * side + 1)) / 6 - corners * (side / 2) ** 2);
  for (let r = 0, at = 0; r < down; r++)
    for (let c = 0; c < across; c++, at += CELL_FLOATS) {
      const left = c * side;
      const top = r * side;
      if (shows && !anyShows(shows, { left, top, side }, width, height)) {
        cells[at + 3] = -1;
        continue;
      }
      if (left + side >= width || top + side >= height) {
        cells[at + 3] = Infinity;
        continue;
      }
      let sum = 0;
      let alongX = 0;
      let alongY = 0;
      for (let y = 0; y < corners; y++)
        for (let x = 0, i = (top + y) * width + left; x < corners; x++, i++) {
          const d = data[i];
          sum += d;
          alongX += d * (x - side / 2);
          alongY += d * (y - side / 2);
        }
      const b = alongX / spread;
      const slope = alongY / spread;
      const a = sum / (corners * corners) - (b + slope) * (side / 2);
      let strays = 0;
      for (let y = 0; y < corners; y++)
        for (let x = 0, i = (top + y) * width + left; x < corners; x++, i++)
          strays = Math.max(strays, Math.abs(data[i] - a - b * x - slope * y));
      cells[at] = a;
      cells[at + 1] = b;
      cells[at + 2] = slope;
      cells[at + 3] = strays;
    }
  return cells;
}

function anyShows(
  shows: (pixel: number) => boolean,
  { left, top, side }: { readonly left: number; readonly top: number; readonly side: number },
  width: number,
  height: number,
): boolean {
  for (let y = top; y <= Math.min(top + side, height - 1); y++)
    for (let x = left; x <= Math.min(left + side, width - 1); x++) if (shows(y * width + x)) return true;
  return false;
}
