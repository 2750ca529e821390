import { kernels, layOut } from '../kernels/kernels';
import type { DepthMap, Picture } from '../raster/picture';
import type { ViewBuffers } from '../stereo/synthesizeView';

/** Sweeps of relaxation: after the row fill as a start, more than these change less than the eye can see (docs/computations.md). */
const SWEEPS = 16;
const OMEGA = 1.6;

/** How to tell the near side of a gap from the far one. */
export interface Sides {
  /** Largest difference of depth, 0 to 65535, that still counts as the same ground. */
  readonly jump: number;
  /** True where the budget puts black in front of white. */
  readonly blackIsNear: boolean;
  /** True where the view gave pixels beside a nearer thing to that thing. */
  readonly grown: boolean;
}

/**
 * Smooths the row fill of a view's revealed pixels into a membrane that is held by the farther side only: a neighbour that is
 * nearer than the gap's own ground by more than `jump` has no part in it, so no near colour bleeds in.
 *
 * @param view the view with its row fill, its mask and where each pixel came from; changed in place
 * @param depth the source's depth, which says what is near
 * @param sides which of two depths is the near side
 * Source: the membrane (Laplace) of docs/computations.md, Fill, with the near side cut loose (Neumann).
 */
export function fillReveal(view: ViewBuffers<Picture>, depth: DepthMap, sides: Sides): void {
  const { jump, blackIsNear, grown } = sides;
  const { revealed: { width, height, data: mask }, coordinates, picture: { data } } = view;
  const runs = findRuns(mask, width, height);
  const count = runs.pixels;
  if (count === 0) return;
  const sign = blackIsNear ? -1 : 1;
  const nearness = (i: number, row: number): number => sign * (grown ? grownDepth : plainDepth)(depth, row, Math.min(width - 1, (coordinates[i] + 128) >> 8), jump);

  const { at, buffer } = layOut([(count + 1) * 16, count * 16, count * 4, count * 16]);
  const values = new Float32Array(buffer, at[0], (count + 1) * 4), known = new Float32Array(buffer, at[1], count * 4);
  const inverse = new Float32Array(buffer, at[2], count), neighbours = new Int32Array(buffer, at[3], count * 4);
  values.fill(0, count * 4);
  known.fill(0);
  inverse.fill(0);
  neighbours.fill(count);
  const hold = (k: number, j: number): void => {
    known[k * 4] += data[j * 4];
    known[k * 4 + 1] += data[j * 4 + 1];
    known[k * 4 + 2] += data[j * 4 + 2];
    known[k * 4 + 3] += data[j * 4 + 3];
    inverse[k]++;
  };
  // The index and the ground of the unknown pixels in the row above; -1 where the pixel is known.
  let indexAbove = new Int32Array(width).fill(-1), indexHere = new Int32Array(width).fill(-1);
  let groundAbove = new Int32Array(width), groundHere = new Int32Array(width);
  let k = 0, run = 0;
  for (let y = 0; y < height; y++) {
    const row = y * width;
    [indexAbove, indexHere] = [indexHere, indexAbove];
    [groundAbove, groundHere] = [groundHere, groundAbove];
    indexHere.fill(-1);
    for (; run < runs.starts.length && runs.starts[run] < row + width; run++) {
      const from = runs.starts[run], to = runs.ends[run];
      const ground = nearness(from, row);
      if (from > row && nearness(from - 1, row) - ground <= jump) hold(k, from - 1);
      for (let i = from; i < to; i++, k++) {
        const x = i - row;
        indexHere[x] = k;
        groundHere[x] = ground;
        values[k * 4] = data[i * 4];
        values[k * 4 + 1] = data[i * 4 + 1];
        values[k * 4 + 2] = data[i * 4 + 2];
        values[k * 4 + 3] = data[i * 4 + 3];
        if (i > from) {
          neighbours[k * 4] = k - 1;
          neighbours[k * 4 - 3] = k;
          inverse[k]++;
          inverse[k - 1]++;
        }
        const above = indexAbove[x];
        if (above >= 0) {
          if (Math.abs(groundAbove[x] - ground) <= jump) {
            neighbours[k * 4 + 2] = above;
            neighbours[above * 4 + 3] = k;
            inverse[k]++;
            inverse[above]++;
          }
        } else if (y > 0 && nearness(i - width, row - width) - ground <= jump) hold(k, i - width);
        if (y < height - 1 && mask[i + width] === 0 && nearness(i + width, row + width) - ground <= jump) hold(k, i + width);
      }
      if (to < row + width && nearness(to, row) - ground <= jump) hold(k - 1, to);
    }
  }
  for (let n = 0; n < count; n++) {
    if (inverse[n] > 0) { inverse[n] = 1 / inverse[n]; continue; }
    // Cut loose on all sides: it keeps its row fill.
    for (let c = 0; c < 4; c++) known[n * 4 + c] = values[n * 4 + c];
    inverse[n] = 1;
  }
  kernels().relaxMembrane(at[0], at[1], at[2], at[3], count, SWEEPS, OMEGA);
  const top = data instanceof Uint16Array ? 65535 : 255;
  for (let r = 0, n = 0; r < runs.starts.length; r++) {
    for (let i = runs.starts[r] * 4; i < runs.ends[r] * 4; i++, n++) {
      const v = values[n] + 0.5;
      data[i] = v < 0 ? 0 : v > top ? top : v;
    }
  }
}

/** The horizontal runs of revealed pixels, none longer than a row: first index and the index after the last. */
function findRuns(mask: Uint8Array, width: number, height: number): { starts: number[]; ends: number[]; pixels: number } {
  const starts: number[] = [], ends: number[] = [];
  let pixels = 0;
  for (let i = mask.indexOf(255); i >= 0;) {
    const rowEnd = i - (i % width) + width;
    let end = mask.indexOf(0, i);
    if (end < 0 || end > rowEnd) end = rowEnd;
    starts.push(i);
    ends.push(end);
    pixels += end - i;
    i = end < width * height ? mask.indexOf(255, end) : -1;
  }
  return { starts, ends, pixels };
}

/** A source pixel's depth after the near side has been grown by one pixel, as the view synthesis sees it. */
function grownDepth(depth: DepthMap, row: number, x: number, jump: number): number {
  const { width, height, data } = depth;
  const here = data[row + x];
  let nearest = here;
  if (x > 0 && data[row + x - 1] > nearest) nearest = data[row + x - 1];
  if (x < width - 1 && data[row + x + 1] > nearest) nearest = data[row + x + 1];
  if (row > 0 && data[row + x - width] > nearest) nearest = data[row + x - width];
  if (row + width < width * height && data[row + x + width] > nearest) nearest = data[row + x + width];
  return nearest - here > jump ? nearest : here;
}

function plainDepth(depth: DepthMap, row: number, x: number): number {
  return depth.data[row + x];
}
