import { layOut, ownKernels } from '../kernels/kernels';
import { viewAtColumn, type SheetPlan } from './pitch';

/** Puts row `y` of view `view` (RGB bytes, the view's width) into `into`. */
export type ReadViewRow = (view: number, y: number, into: Uint8Array) => void;

/**
 * The sheet row by row, RGB bytes. Each printed column shows the view that its place under the lens asks for, at its own place
 * in the picture; rows are blended linearly between the views' rows. Only one row of every view and two interlaced rows are
 * held: interlacing before blending touches the printed columns only, however many views there are.
 *
 * The yielded array is used again for a later row: write it away before going on.
 */
export function* interlaceRows(plan: SheetPlan, readRow: ReadViewRow): Generator<Uint8Array, void, void> {
  const { columns, rows, views, viewWidth, viewHeight } = plan;
  const viewBytes = viewWidth * 3;
  const lineBytes = columns * 3;
  const k = ownKernels();
  const {
    at: [source, offsetsAt, blended, ...lines],
    buffer,
  } = layOut([viewBytes * views + 16, columns * 4, lineBytes + 16, lineBytes + 16, lineBytes + 16], k);
  const offsets = new Uint32Array(buffer, offsetsAt, columns);
  for (let x = 0; x < columns; x++) {
    const from = Math.min(viewWidth - 1, Math.floor(((x + 0.5) * viewWidth) / columns));
    offsets[x] = viewAtColumn(plan, x) * viewBytes + from * 3;
  }
  const slots = Array.from({ length: views }, (_, v) => new Uint8Array(buffer, source + v * viewBytes, viewBytes));
  const held = [-1, -1];
  /** Which of the two lines holds view row y interlaced; the line that holds `other` is left alone. */
  const hold = (y: number, other: number): number => {
    const found = held.indexOf(y);
    if (found >= 0) return found;
    const line = held[0] === other ? 1 : 0;
    for (let v = 0; v < views; v++) readRow(v, y, slots[v]);
    k.gatherColumns(source, offsetsAt, lines[line], columns);
    held[line] = y;
    return line;
  };
  const out = [blended, ...lines].map((at) => new Uint8Array(buffer, at, lineBytes));
  for (let y = 0; y < rows; y++) {
    const place = Math.min(viewHeight - 1, Math.max(0, ((y + 0.5) * viewHeight) / rows - 0.5));
    const y0 = Math.floor(place);
    const weight = Math.round((place - y0) * 128);
    const y1 = Math.min(viewHeight - 1, y0 + 1);
    const a = hold(y0, y1);
    if (weight === 0) {
      yield out[1 + a];
      continue;
    }
    k.blendRows(lines[a], lines[hold(y1, y0)], blended, lineBytes, weight);
    yield out[0];
  }
}
