import { kernels, layOut } from '../kernels/kernels';
import type { Rect } from '../raster/geometry';
import { isDeep, type DepthMap, type Premultiplied } from '../raster/picture';
import { rowsAtOnce, takeRows } from '../raster/rows';
import { EDGE_BYTES, EDGE_ROWS, edgePixels } from './edgePixels';

/** The edge pixels of a whole surface (core/kernels/source/edges.ts). */
export interface SurfaceEdges {
  /** EDGE_BYTES each, row by row. */
  readonly list: Uint8Array;
  /** Where each row's begin, and one more. */
  readonly starts: Int32Array;
}

const FAR_AT = 6;
const ALPHA_AT = 8;
const BEHIND_AT = 24;
const LEAST_ALPHA = 0.02;

/**
 * The edge pixels of a surface whose near depths are the larger ones.
 * @param limit jump of depth between neighbours from which they are edges
 */
export function surfaceEdges(picture: Premultiplied, depth: DepthMap, limit: number): SurfaceEdges {
  const { width, height } = picture;
  const bytes = isDeep(picture) ? 8 : 4;
  const band = Math.min(height, rowsAtOnce(width * bytes));
  const rows = band + 2 * EDGE_ROWS;
  const sizes = [width * bytes * rows, width * 2 * rows + 16, width * rows + 16, 128, (band + 1) * 4, EDGE_BYTES];
  const { at } = layOut(sizes);
  const [pixelsAt, depthAt, marksAt, sumsAt, startsAt, listAt] = at;
  const places = { pixelsAt, depthAt, marksAt, sumsAt, startsAt, listAt };
  const parts: Uint8Array[] = [];
  const starts = new Int32Array(height + 1);
  let count = 0;
  for (let first = 0; first < height; first += band) {
    const end = Math.min(height, first + band);
    const rect: Rect = { left: 0, top: first, right: width, bottom: end };
    const held = width * (end - first + 2 * EDGE_ROWS);
    const { buffer } = kernels().memory;
    const pixels =
      bytes === 8 ? new Uint16Array(buffer, pixelsAt, held * 4) : new Uint8Array(buffer, pixelsAt, held * 4);
    takeRows(picture, rect, EDGE_ROWS, pixels);
    takeRows(depth, rect, EDGE_ROWS, new Uint16Array(buffer, depthAt, held));
    const limits = { limit, blackIsNear: false, left: 0, right: width };
    const found = edgePixels({ picture, depth, first, end, column: 0, width, ...places }, limits);
    const memory = kernels().memory.buffer;
    const list = new Uint8Array(memory, listAt, found * EDGE_BYTES).slice();
    const begins = new Int32Array(memory, startsAt, end - first + 1);
    const words = new DataView(list.buffer);
    let kept = 0;
    for (let y = first; y < end; y++) {
      starts[y] = count + kept;
      for (let n = begins[y - first]; n < begins[y - first + 1]; n++) {
        const at = n * EDGE_BYTES;
        // The farther side's own, of which nothing stands in front, is what it was: its neighbour's strip ends there by itself.
        const isFar = words.getUint16(at + FAR_AT, true) === depth.data[y * width + words.getInt32(at, true)];
        if (isFar && words.getFloat32(at + ALPHA_AT, true) < LEAST_ALPHA) continue;
        list.copyWithin(kept++ * EDGE_BYTES, at, at + EDGE_BYTES);
      }
    }
    parts.push(list.subarray(0, kept * EDGE_BYTES));
    count += kept;
  }
  starts[height] = count;
  const list = new Uint8Array(count * EDGE_BYTES);
  let to = 0;
  for (const part of parts) {
    list.set(part, to);
    to += part.length;
  }
  return { list, starts };
}

/** Where a surface's own pixels and depths lie; they are changed. */
export interface SurfaceData {
  readonly width: number;
  readonly pixels: Uint8Array | Uint16Array;
  readonly depth: Uint16Array;
  /** A byte a pixel: 1 at edges. */
  readonly marks: Uint8Array;
}

/** Puts what lies behind a surface's edge pixels in their place. */
export function stepBackEdges({ list, starts }: SurfaceEdges, { width, pixels, depth, marks }: SurfaceData): void {
  const words = new DataView(list.buffer, list.byteOffset);
  const deep = pixels instanceof Uint16Array;
  for (let y = 0; y + 1 < starts.length; y++)
    for (let n = starts[y]; n < starts[y + 1]; n++) {
      const at = n * EDGE_BYTES;
      const i = y * width + words.getInt32(at, true);
      marks[i] = 1;
      depth[i] = words.getUint16(at + FAR_AT, true);
      for (let c = 0; c < 4; c++)
        pixels[i * 4 + c] = deep ? words.getUint16(at + BEHIND_AT + c * 2, true) : words.getUint8(at + BEHIND_AT + c);
    }
}
