import type { Size } from '../kind';
import type { Rect } from './geometry';

type Samples = Uint8Array | Uint8ClampedArray | Uint16Array;

/** What a turn touches stays in the processor's cache. */
const BAND_BYTES = 1 << 18;
/**
 * Memory that is shared is copied word by word where both sides begin at a whole word, and byte by byte elsewhere: so
 * many samples of any kind, and rows of them, begin at one.
 */
export const WHOLE_WORDS = 8;

/** How many rows are best computed at a turn. @param rowBytes of the widest samples */
export function rowsAtOnce(rowBytes: number): number {
  return Math.max(1, Math.floor(BAND_BYTES / rowBytes / WHOLE_WORDS)) * WHOLE_WORDS;
}

/** How a raster lies in memory. */
export interface RasterRows {
  /** Px. */
  readonly width: number;
  /** Samples a px. */
  readonly samples: number;
}

/** Copies a rectangle of a raster into one that holds it alone. */
export function takeRect(from: Samples, to: Samples, { left, top, right, bottom }: Rect, rows: RasterRows): void {
  const { width, samples } = rows;
  const line = (right - left) * samples;
  // Whole rows lie together.
  if (right - left === width) {
    to.set(from.subarray(top * line, bottom * line));
    return;
  }
  for (let y = top; y < bottom; y++) {
    const at = (y * width + left) * samples;
    to.set(from.subarray(at, at + line), (y - top) * line);
  }
}

/** Copies a raster that holds a rectangle alone back to its place. */
export function putRect(from: Samples, to: Samples, { left, top, right, bottom }: Rect, rows: RasterRows): void {
  const { width, samples } = rows;
  const line = (right - left) * samples;
  if (right - left === width) {
    to.set(from, top * line);
    return;
  }
  for (let y = top; y < bottom; y++)
    to.set(from.subarray((y - top) * line, (y - top + 1) * line), (y * width + left) * samples);
}

/** Copies a rectangle of a raster with `around` rows more above and below; beyond the raster its outermost rows are repeated. */
export function takeRows(
  { width, height, data }: Size & { readonly data: Samples },
  rect: Rect,
  around: number,
  to: Samples,
): void {
  const samples = data.length / (width * height);
  const line = (rect.right - rect.left) * samples;
  const first = rect.top - around;
  const top = Math.max(0, first);
  const bottom = Math.min(height, rect.bottom + around);
  takeRect(data, to.subarray((top - first) * line), { ...rect, top, bottom }, { width, samples });
  for (let y = first; y < top; y++) to.copyWithin((y - first) * line, (top - first) * line, (top - first + 1) * line);
  for (let y = bottom; y < rect.bottom + around; y++)
    to.copyWithin((y - first) * line, (bottom - 1 - first) * line, (bottom - first) * line);
}
