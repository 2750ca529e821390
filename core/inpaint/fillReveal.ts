import { kernels } from '../kernels/kernels';
import type { ColumnRange } from '../raster/geometry';
import { isDeep, sixteenBits, type Picture } from '../raster/picture';

/**
 * Sweeps of relaxation. Over-relaxed, a change travels some three pixels a sweep, and it comes in from one side only; what more
 * sweeps than twelve still change in the widest gaps is less than the eye can see (docs/computations.md).
 */
const sweepsFor = (widestGap: number): number => Math.min(12, 2 + 2 * Math.ceil(widestGap / 6));
const OMEGA = 1.8;
/** Bytes of a node of the membrane (core/kernels/source/membrane.ts). */
export const NODE_BYTES = 64;
const PIXEL_AT = 56;

/**
 * Smooths the row fill of a view's revealed pixels into a membrane that is held by the farther side only: a neighbour that is
 * nearer than the gap's own ground has no part in it, so no near colour bleeds in. The nodes were gathered while the view was
 * drawn.
 *
 * @param picture the view, changed where a node says so
 * @param nodes where in the kernels' memory node 0 lies
 * @param end the node after the last
 * @param columns of the picture that were drawn; nodes count their pixels by these @default all
 * Source: the membrane (Laplace) of docs/computations.md, Fill, with the near side cut loose (Neumann).
 */
export function fillReveal(picture: Picture, nodes: number, end: number, columns?: ColumnRange): void {
  const k = kernels();
  const bytes = isDeep(picture) ? 8 : 4;
  k.relaxMembrane(nodes, end, sweepsFor(k.widestGap()), OMEGA, bytes);
  const { width, data } = picture;
  const { left, right } = columns ?? { left: 0, right: width };
  const drawn = right - left;
  const placeOf = (pixel: number): number =>
    drawn === width ? pixel : Math.floor(pixel / drawn) * width + left + (pixel % drawn);
  const whole = new Uint32Array(k.memory.buffer, nodes, (end * NODE_BYTES) / 4);
  const step = NODE_BYTES / 4;
  if (sixteenBits(data)) {
    const values = new Uint16Array(k.memory.buffer, nodes, (end * NODE_BYTES) / 2);
    for (let n = 1; n < end; n++) {
      const at = placeOf(whole[n * step + PIXEL_AT / 4]) * 4;
      for (let c = 0; c < 4; c++) data[at + c] = values[n * step * 2 + c];
    }
  } else {
    const pixels = new Uint32Array(data.buffer, data.byteOffset, data.length / 4);
    for (let n = step; n < whole.length; n += step) pixels[placeOf(whole[n + PIXEL_AT / 4])] = whole[n];
  }
}
