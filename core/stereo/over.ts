import { kernels, layOut } from '../kernels/kernels';
import { moveRect, type ColumnRange, type Rect } from '../raster/geometry';
import { isDeep, type Mask, type Premultiplied } from '../raster/picture';
import { putRect, rowsAtOnce, takeRect } from '../raster/rows';

export interface OverOptions {
  /** The row of the lower picture on which the upper one begins. @default 0 */
  readonly top?: number;
  /** What of the upper picture is laid over. @default all columns */
  readonly columns?: ColumnRange;
  /** The lower one takes over what of the upper picture is revealed, and forgets what it covers. */
  readonly revealed?: { readonly under: Mask; readonly upper: Mask };
}

/**
 * Lays a premultiplied picture over rows of another one of its width, in place.
 * Source: "over", Porter and Duff, "Compositing digital images", SIGGRAPH 1984.
 * @returns by how many px more the lower one is revealed
 */
export function over<P extends Premultiplied>(under: P, upper: P, options: OverOptions = {}): number {
  const { width, height } = upper;
  const { top = 0, columns = { left: 0, right: width }, revealed } = options;
  const bytes = isDeep(upper) ? 8 : 4;
  const drawn = columns.right - columns.left;
  const band = Math.min(height, rowsAtOnce(drawn * bytes));
  const { at, buffer } = layOut([drawn * bytes * band, drawn * bytes * band, drawn * band, drawn * band]);
  const k = kernels();
  let more = 0;
  for (let y = 0; y < height; y += band) {
    const n = Math.min(band, height - y);
    const count = n * drawn;
    const samplesAt = (offset: number): Uint8Array | Uint16Array =>
      bytes === 8 ? new Uint16Array(buffer, offset, count * 4) : new Uint8Array(buffer, offset, count * 4);
    const marksAt = (offset: number): Uint8Array => new Uint8Array(buffer, offset, count);
    const above: Rect = { ...columns, top: y, bottom: y + n };
    const below = moveRect(above, 0, top);
    takeRect(upper.data, samplesAt(at[0]), above, { width, samples: 4 });
    takeRect(under.data, samplesAt(at[1]), below, { width, samples: 4 });
    if (revealed) {
      takeRect(revealed.upper.data, marksAt(at[2]), above, { width, samples: 1 });
      takeRect(revealed.under.data, marksAt(at[3]), below, { width, samples: 1 });
    }
    more += k.overRows(at[0], at[1], revealed ? at[2] : 0, revealed ? at[3] : 0, count, bytes);
    putRect(samplesAt(at[1]), under.data, below, { width, samples: 4 });
    if (revealed) putRect(marksAt(at[3]), revealed.under.data, below, { width, samples: 1 });
  }
  return more;
}
