import type { DepthMap } from '../raster/picture';

/** Rows of a raster, as wide as the whole. */
export interface Rows {
  /** The first of them, of the whole. */
  readonly top: number;
  readonly depth: DepthMap;
}

/** The same rows on a grid so many times coarser. */
export interface CoarseRows {
  /** The first of them, of the coarse whole. */
  readonly top: number;
  readonly depth: DepthMap;
  /** Which fine pixel of the rows stands for each coarse one. */
  readonly from: Int32Array;
}

/**
 * Rows on a coarser grid: the middle pixel of each group stands for it, so that nothing is mixed.
 * @param factor an odd number
 */
export function coarseRows({ top, depth: { width, height, data } }: Rows, factor: number): CoarseRows {
  // Coarse pixel k lies at factor k + middle.
  const middle = (factor - 1) >> 1;
  const across = Math.max(1, Math.floor((width - 1 - middle) / factor) + 1);
  const first = Math.max(0, Math.ceil((top - middle) / factor));
  const last = Math.floor((top + height - 1 - middle) / factor);
  const down = Math.max(1, last - first + 1);
  const map = new Uint16Array(across * down);
  const from = new Int32Array(across * down);
  for (let y = 0, to = 0; y < down; y++) {
    const row = Math.min(height - 1, Math.max(0, (first + y) * factor + middle - top));
    for (let x = 0; x < across; x++, to++) {
      from[to] = row * width + Math.min(width - 1, x * factor + middle);
      map[to] = data[from[to]];
    }
  }
  return { top: first, depth: { width: across, height: down, data: map }, from };
}
