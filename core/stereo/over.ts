import type { ColumnRange } from '../raster/geometry';
import { isDeep, type Mask, type Premultiplied } from '../raster/picture';

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
  const a = upper.data;
  const b = under.data;
  const most = isDeep(upper) ? 65535 : 255;
  // Whole pixels of 8 bits travel as one word.
  const from = wordsOf(upper);
  const to = wordsOf(under);
  let more = 0;
  for (let y = 0; y < height; y++) {
    let i = y * width + columns.left;
    let m = i + top * width;
    for (const end = y * width + columns.right; i < end; i++, m++) {
      const alpha = a[i * 4 + 3];
      if (alpha === 0) continue;
      if (alpha === most && from && to) to[m] = from[i];
      else {
        const keep = (most - alpha) / most;
        for (let c = 0; c < 4; c++) b[m * 4 + c] = Math.min(most, a[i * 4 + c] + Math.round(b[m * 4 + c] * keep));
      }
      if (!revealed || alpha * 2 < most) continue;
      const shows = revealed.upper.data[i];
      const showed = revealed.under.data[m];
      if (shows === showed) continue;
      revealed.under.data[m] = shows;
      more += shows > showed ? 1 : -1;
    }
  }
  return more;
}

function wordsOf(picture: Premultiplied): Uint32Array | undefined {
  const { data } = picture;
  return isDeep(picture) ? undefined : new Uint32Array(data.buffer, data.byteOffset, data.length / 4);
}
