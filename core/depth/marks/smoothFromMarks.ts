import { fastGlobalSmoother } from '../../raster/fastGlobalSmoother';
import { halvePicture } from '../../raster/halve';
import { nearestSeed } from '../../raster/nearest';
import type { Picture8 } from '../../raster/picture';
import type { Mark } from './samples';

/** Depth spreads so far that it reaches everything, but for edges. */
const SPREADING = { lambda: 1e5, sigma: 6, passes: 3 };
/** What the nearest mark says of a place weighs so much against marks themselves: it counts where no other reaches. */
const NEAREST = 1e-5;
/** Marks are left out in so many turns at most, of a picture of so many pixels. */
const TURNS = 12;
const LEFT_OUT_PIXELS = 4e5;

/** The marks that have a depth. */
export type DepthMark = Mark & { readonly depth: number };

/**
 * Depth spread from marks along the picture's edges only, without asking what looks alike: of use where a picture is grey.
 * Source: Min and others (fastGlobalSmoother), section on interpolation of sparse data: the smoothed depth of the marks over the
 * smoothed marks.
 */
export function smoothFromMarks(picture: Picture8, marks: readonly DepthMark[]): Float32Array {
  const { width, height } = picture;
  const marked = new Float32Array(width * height).fill(-1);
  for (const { pixels, depth } of marks) for (let k = 0; k < pixels.length; k++) marked[pixels[k]] = depth;
  const nearest = nearestSeed(width, height, (i) => marked[i] >= 0);
  const depths = new Float32Array(marked.length);
  const weights = new Float32Array(marked.length);
  for (let i = 0; i < marked.length; i++) {
    weights[i] = marked[i] >= 0 ? 1 : NEAREST;
    depths[i] = weights[i] * marked[nearest[i]];
  }
  for (const plane of [depths, weights]) fastGlobalSmoother(plane, picture.data, { width, height, ...SPREADING });
  for (let i = 0; i < depths.length; i++) depths[i] = Math.min(1, Math.max(0, depths[i] / weights[i]));
  return depths;
}

/** Mean error of a mark's depth as the others foretell it so, of depth. */
export function smoothLeftOut(picture: Picture8, marks: readonly DepthMark[]): number {
  let small = picture;
  let halvings = 0;
  while (small.width * small.height > LEFT_OUT_PIXELS) {
    small = halvePicture(small);
    halvings++;
  }
  const reduced = marks.map(({ pixels, depth }) => {
    const at = new Set<number>();
    for (let k = 0; k < pixels.length; k++) {
      const x = pixels[k] % picture.width;
      at.add((Math.floor(pixels[k] / picture.width) >> halvings) * small.width + (x >> halvings));
    }
    return { pixels: [...at], depth };
  });
  const turns = Math.min(TURNS, reduced.length);
  let sum = 0;
  for (let turn = 0; turn < turns; turn++) {
    const rest = reduced.filter((_, n) => n % turns !== turn);
    if (rest.length === 0) return 0;
    const said = smoothFromMarks(small, rest);
    reduced.forEach(({ pixels, depth }, n) => {
      if (n % turns === turn) sum += Math.abs(pixels.reduce((a, i) => a + said[i], 0) / pixels.length - depth);
    });
  }
  return sum / reduced.length;
}
