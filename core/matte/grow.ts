import { CoreError } from '../error';
import { requireSameSize, type Mask, type Picture8 } from '../raster/picture';

/** Cells to a side of the cube of colours. */
const CELLS = 64;
const STEP = 256 / CELLS;
/** A cell must hold this share of the choice to count as one of its colours: stray pixels must not open the way. */
const RARE = 0.0005;

/**
 * Grows a choice into what hangs together with it and looks like it: pixels whose colour lies no more than `tolerance` (0 to 255,
 * largest difference of a channel) from a colour that the choice holds, no more than `reach` px of walking away.
 *
 * Source: a flood from many seeds, with the choice's colour histogram and the chessboard distance to it in the cube of colours.
 * @throws CoreError `size-differs`; `out-of-range`
 */
export function growToSimilar(picture: Picture8, choice: Mask, tolerance: number, reach: number): Mask {
  requireSameSize('The choice', choice, 'the picture', picture);
  if (!(tolerance >= 0 && tolerance <= 255))
    throw new CoreError('out-of-range', `The tolerance is ${tolerance}; it must lie between 0 and 255.`);
  const { width, height } = choice;
  const { data } = picture;
  const counts = new Uint32Array(CELLS ** 3);
  let total = 0;
  const cell = (i: number): number =>
    ((data[i * 4] / STEP) | 0) * CELLS * CELLS +
    ((data[i * 4 + 1] / STEP) | 0) * CELLS +
    ((data[i * 4 + 2] / STEP) | 0);
  for (let i = 0; i < choice.data.length; i++)
    if (choice.data[i] >= 128) {
      counts[cell(i)]++;
      total++;
    }
  const out = choice.data.slice();
  if (total === 0 || reach <= 0) return { width, height, data: out };
  const near = Uint8Array.from(counts, (n) => (n > 0 && n >= RARE * total ? 1 : 0));
  dilate(near, Math.round(tolerance / STEP));
  const steps = Math.ceil(reach);
  let front: number[] = [];
  for (let i = 0; i < out.length; i++) if (out[i] >= 128) front.push(i);
  for (let step = 0; step < steps && front.length > 0; step++) {
    const next: number[] = [];
    const visit = (j: number): void => {
      if (out[j] < 128 && near[cell(j)]) {
        out[j] = 255;
        next.push(j);
      }
    };
    for (const i of front) {
      const x = i % width;
      if (x > 0) visit(i - 1);
      if (x < width - 1) visit(i + 1);
      if (i >= width) visit(i - width);
      if (i + width < out.length) visit(i + width);
    }
    front = next;
  }
  return { width, height, data: out };
}

/** Grows the marked cells by `r` cells along each of the three axes in turn: a chessboard distance. */
function dilate(cells: Uint8Array, r: number): void {
  if (r <= 0) return;
  for (const step of [1, CELLS, CELLS * CELLS]) {
    const was = cells.slice();
    for (let i = 0; i < was.length; i++) {
      if (!was[i]) continue;
      const at = Math.floor(i / step) % CELLS;
      for (let k = Math.max(-r, -at); k <= Math.min(r, CELLS - 1 - at); k++) cells[i + k * step] = 1;
    }
  }
}
