import { layOut, ownKernels } from '../kernels/kernels';
import { viewAtColumn, type SheetPlan } from './pitch';

/** Puts row `y` of view `view` (RGB bytes, the view's width) into `into`. */
export type ReadViewRow = (view: number, y: number, into: Uint8Array) => void;

/**
 * The sheet row by row, RGB bytes. Rows are blended linearly between the views' rows; each printed column shows the view that
 * its place under the lens asks for, at its own place in the picture. Only two rows of every view are held.
 *
 * The yielded array is used again for the next row: write it away before going on.
 */
export function* interlaceRows(plan: SheetPlan, readRow: ReadViewRow): Generator<Uint8Array, void, void> {
  const { columns, rows, views, viewWidth, viewHeight } = plan;
  const stride = (viewWidth * 3 + 16) & ~15;
  const block = stride * views;
  const k = ownKernels();
  const { at, buffer } = layOut([block + 16, block + 16, block + 16, columns * 4, columns * 3 + 16], k);
  const offsets = new Uint32Array(buffer, at[3], columns);
  for (let x = 0; x < columns; x++) {
    const from = Math.min(viewWidth - 1, Math.floor(((x + 0.5) * viewWidth) / columns));
    offsets[x] = viewAtColumn(plan, x) * stride + from * 3;
  }
  const slots = [0, 1].map((s) => Array.from({ length: views }, (_, v) => new Uint8Array(buffer, at[s] + v * stride, viewWidth * 3)));
  const held = [-1, -1];
  const hold = (y: number, other: number): number => {
    const found = held.indexOf(y);
    if (found >= 0) return found;
    const slot = held[0] === other ? 1 : 0;
    for (let v = 0; v < views; v++) readRow(v, y, slots[slot][v]);
    held[slot] = y;
    return slot;
  };
  const out = new Uint8Array(buffer, at[4], columns * 3);
  for (let y = 0; y < rows; y++) {
    const place = Math.min(viewHeight - 1, Math.max(0, ((y + 0.5) * viewHeight) / rows - 0.5));
    const y0 = Math.floor(place);
    const weight = Math.round((place - y0) * 128);
    const y1 = Math.min(viewHeight - 1, y0 + 1);
    const a = hold(y0, y1);
    if (weight === 0) k.gatherRow(at[a], at[3], at[4], columns);
    else {
      const b = hold(y1, y0);
      k.blendRows(at[a], at[b], at[2], block, weight);
      k.gatherRow(at[2], at[3], at[4], columns);
    }
    yield out;
  }
}
