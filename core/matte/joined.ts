import type { Pieces } from '../raster/pieces';

/** What lies no farther apart than a cell belongs together: a leaf and its tree. Cells to a picture's longer side. */
const CELLS = 120;

/**
 * Which pieces of a region are joined to a stroke that says "in", over gaps of a cell at most. The same colours far away are
 * something else that no stroke has meant.
 * @param sides 1 for the pieces that are in
 * @param begins 1 for the pieces with such a stroke
 * @returns 1 for the pieces that stay in
 */
export function joined(
  { width, height, of: pieceAt }: Pieces,
  sides: Uint8Array,
  begins: (piece: number) => boolean,
): Uint8Array {
  const cell = Math.max(2, Math.ceil(Math.max(width, height) / CELLS));
  const w = Math.ceil(width / cell);
  const h = Math.ceil(height / cell);
  const held = new Uint8Array(w * h);
  const reached = new Uint8Array(w * h);
  const open: number[] = [];
  const each = (work: (piece: number, cell: number) => void): void => {
    for (let y = 0, i = 0; y < height; y++) {
      const row = Math.floor(y / cell) * w;
      for (let x = 0; x < width; x++, i++) if (sides[pieceAt[i]]) work(pieceAt[i], row + Math.floor(x / cell));
    }
  };
  each((piece, at) => {
    held[at] = 1;
    if (reached[at] || !begins(piece)) return;
    reached[at] = 1;
    open.push(at);
  });
  for (let n = 0; n < open.length; n++) {
    const x = open[n] % w;
    const y = (open[n] - x) / w;
    for (let v = Math.max(0, y - 1); v <= Math.min(h - 1, y + 1); v++)
      for (let u = Math.max(0, x - 1); u <= Math.min(w - 1, x + 1); u++) {
        const at = v * w + u;
        if (!held[at] || reached[at]) continue;
        reached[at] = 1;
        open.push(at);
      }
  }
  const out = new Uint8Array(sides.length);
  each((piece, at) => {
    if (reached[at]) out[piece] = 1;
  });
  return out;
}
