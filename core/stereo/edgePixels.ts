import { kernels, reach } from '../kernels/kernels';
import { isDeep, type DepthMap, type Picture } from '../raster/picture';

/** Rows above and below of which an edge pixel may depend (core/kernels/source/edges.ts). */
export const EDGE_ROWS = 4;
/** An edge pixel in the kernels' memory, bytes. */
export const EDGE_BYTES = 40;

/** Steps of half an octave, never more than a jump that tears: what is known of edges stays so while parallax is dragged. */
export const edgeLimit = (jump: number): number => Math.max(1, Math.floor(2 ** (Math.floor(2 * Math.log2(jump)) / 2)));

/** Which edges are meant. */
export interface EdgeLimits {
  /** Jump of depth between neighbours from which they are edges, 1 to 65534. */
  readonly limit: number;
  readonly blackIsNear: boolean;
  /** The columns that hold anything. */
  readonly left: number;
  readonly right: number;
}

/** Some rows of a picture and its depth in the kernels' memory, with up to EDGE_ROWS more above and below. */
export interface RowsInMemory {
  readonly picture: Picture;
  readonly depth: DepthMap;
  readonly first: number;
  readonly end: number;
  /** First column, and how many. */
  readonly column: number;
  readonly width: number;
  /** Where row `first - EDGE_ROWS` of pixels and of depth begins, also where the picture has none. */
  readonly pixelsAt: number;
  readonly depthAt: number;
  /** Room for a byte a px and 16 more, 64 bytes, and i32 for each row and one more. */
  readonly marksAt: number;
  readonly sumsAt: number;
  readonly startsAt: number;
  /** Where edge pixels are put; memory is made to reach as far. */
  readonly listAt: number;
}

interface Band {
  readonly sums: Uint32Array;
  readonly starts: Int32Array;
  readonly list: Uint8Array;
}
interface Kept {
  readonly limits: string;
  readonly bands: Map<number, Band>;
}

/** The edge pixels of depth maps, kept as long as neither they nor their pictures change. */
const kept = new WeakMap<object, Kept>();

/**
 * Lays the edge pixels of some rows into the kernels' memory. They are worked out only where pixels or depth differ from what they
 * were the last time, told by a checksum: whoever paints need not say so.
 *
 * @returns how many there are
 */
export function edgePixels(rows: RowsInMemory, limits: EdgeLimits): number {
  const { depth, first, listAt, startsAt } = rows;
  const name = JSON.stringify([limits, isDeep(rows.picture)]);
  let held = kept.get(depth.data);
  if (held?.limits !== name) {
    held = { limits: name, bands: new Map() };
    kept.set(depth.data, held);
  }
  const sums = sumsOf(rows, limits);
  let band = held.bands.get(first);
  if (!band?.sums.every((sum, n) => sum === sums[n])) {
    const count = prepare(rows, limits);
    const { buffer } = kernels().memory;
    band = {
      sums,
      starts: new Int32Array(buffer, startsAt, rows.end - first + 1).slice(),
      list: new Uint8Array(buffer, listAt, count * EDGE_BYTES).slice(),
    };
    held.bands.set(first, band);
    return count;
  }
  reach(listAt + band.list.length);
  const { buffer } = kernels().memory;
  new Uint8Array(buffer).set(band.list, listAt);
  new Int32Array(buffer, startsAt, band.starts.length).set(band.starts);
  return band.list.length / EDGE_BYTES;
}

/** Checksums of the rows and those around them. */
function sumsOf(rows: RowsInMemory, { left, right }: EdgeLimits): Uint32Array {
  const { picture, depth, first, end, column, width, pixelsAt, depthAt, sumsAt } = rows;
  const k = kernels();
  const bytes = isDeep(picture) ? 8 : 4;
  const top = Math.max(0, first - EDGE_ROWS);
  const count = Math.min(depth.height, end + EDGE_ROWS) - top;
  const from = (top - first + EDGE_ROWS) * width + left - column;
  const held = right - left;
  k.checksum(pixelsAt + from * bytes, held * bytes, width * bytes, count, sumsAt);
  k.checksum(depthAt + from * 2, held * 2, width * 2, count, sumsAt + 64);
  return new Uint32Array(k.memory.buffer, sumsAt, 32).slice();
}

function prepare(rows: RowsInMemory, { limit, blackIsNear, left, right }: EdgeLimits): number {
  const { picture, depth, first, end, column, width, pixelsAt, depthAt, marksAt, startsAt, listAt } = rows;
  const k = kernels();
  const where = [width, depth.height, first - EDGE_ROWS, first, end, left - column, right - column] as const;
  const which = [limit, blackIsNear ? 65535 : 0] as const;
  const bytes = isDeep(picture) ? 8 : 4;
  const count = k.markEdges(pixelsAt, depthAt, marksAt, ...where, ...which, bytes);
  reach(listAt + count * EDGE_BYTES);
  k.partEdges(pixelsAt, depthAt, marksAt, ...where, ...which, bytes, startsAt, listAt);
  return count;
}
