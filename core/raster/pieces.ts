import { CoreError } from '../error';
import type { DepthMap, Picture8 } from './picture';

/** A picture cut into pieces of similar colour: `of` names each pixel's piece, 0 to count - 1. */
export interface Pieces {
  readonly width: number;
  readonly height: number;
  readonly count: number;
  readonly of: Int32Array;
}

export interface PieceOptions {
  /**
   * Larger pieces for larger values: how much of a difference a piece of one pixel forgives, 8-bit steps times px.
   * @default 120
   */
  readonly scale?: number;
  /** Pieces smaller than this are joined to a neighbour, px. @default 20 */
  readonly smallest?: number;
  /** Pieces end where depth jumps, too. @default colours alone */
  readonly depth?: DepthMap;
}

/** Neighbours so far apart in depth, of 65535, differ by so much at least: a slope in a soft or rough map is no jump. */
const JUMP = 2000;
const JUMPS_BY = 60;

/**
 * Proposes a picture's pieces: neighbouring pixels are joined in the order of their difference, unless it exceeds what both
 * pieces show inside themselves.
 *
 * Source: Felzenszwalb and Huttenlocher, "Efficient graph-based image segmentation", IJCV 59(2), 2004; differences are Euclidean
 * in RGB, neighbours are the four beside, sorted by counting.
 * @throws CoreError `bad-pieces`
 */
export function proposePieces(picture: Picture8, options: PieceOptions = {}): Pieces {
  const scale = options.scale ?? 120;
  const smallest = options.smallest ?? 20;
  if (!(scale >= 0) || !(smallest >= 1))
    throw new CoreError(
      'bad-pieces',
      `Pieces cannot be made with a scale of ${scale} and a smallest size of ${smallest} px: the scale must be 0 or more, the size 1 px or more.`,
    );
  const { width, height } = picture;
  const n = width * height;
  const order = sortedEdges(picture, options.depth?.data);
  const parent = new Int32Array(n);
  const size = new Int32Array(n).fill(1);
  const inside = new Float32Array(n);
  for (let i = 0; i < n; i++) parent[i] = i;
  const find = (i: number): number => {
    while (parent[i] !== i) {
      parent[i] = parent[parent[i]];
      i = parent[i];
    }
    return i;
  };
  const join = (a: number, b: number): number => {
    const [large, small] = size[a] >= size[b] ? [a, b] : [b, a];
    parent[small] = large;
    size[large] += size[small];
    return large;
  };
  const { edges, weights } = order;
  for (let e = 0; e < edges.length; e++) {
    const i = edges[e] >>> 1;
    const a = find(i);
    const b = find(i + (edges[e] & 1 ? width : 1));
    if (a === b) continue;
    const w = weights[e];
    if (w <= inside[a] + scale / size[a] && w <= inside[b] + scale / size[b]) inside[join(a, b)] = w;
  }
  if (smallest > 1) {
    for (let e = 0; e < edges.length; e++) {
      const i = edges[e] >>> 1;
      const a = find(i);
      const b = find(i + (edges[e] & 1 ? width : 1));
      if (a !== b && (size[a] < smallest || size[b] < smallest)) join(a, b);
    }
  }
  const name = new Int32Array(n).fill(-1);
  const pieceAt = new Int32Array(n);
  let count = 0;
  for (let i = 0; i < n; i++) {
    const root = find(i);
    if (name[root] < 0) name[root] = count++;
    pieceAt[i] = name[root];
  }
  return { width, height, count, of: pieceAt };
}

/**
 * All pairs of neighbours by their difference, least first: edge = 2 * pixel + (1 for the pixel below, 0 for the one
 * at the right).
 */
function sortedEdges(
  { width, height, data }: Picture8,
  depth: Uint16Array | undefined,
): { edges: Uint32Array; weights: Float32Array } {
  const most = 442;
  const count = (width - 1) * height + width * (height - 1);
  const keys = new Uint16Array(width * height * 2);
  const starts = new Uint32Array(most * 4 + 6);
  const difference = (p: number, q: number): number => {
    const a = 4 * p;
    const b = 4 * q;
    const colours = Math.sqrt(
      (data[a] - data[b]) ** 2 + (data[a + 1] - data[b + 1]) ** 2 + (data[a + 2] - data[b + 2]) ** 2,
    );
    return depth && colours < JUMPS_BY && Math.abs(depth[p] - depth[q]) > JUMP ? JUMPS_BY : colours;
  };
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (x < width - 1) starts[(keys[2 * i] = Math.round(4 * difference(i, i + 1))) + 1]++;
      if (y < height - 1) starts[(keys[2 * i + 1] = Math.round(4 * difference(i, i + width))) + 1]++;
    }
  }
  for (let k = 1; k < starts.length; k++) starts[k] += starts[k - 1];
  const edges = new Uint32Array(count);
  const weights = new Float32Array(count);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (x < width - 1) {
        const at = starts[keys[2 * i]]++;
        edges[at] = 2 * i;
        weights[at] = keys[2 * i] / 4;
      }
      if (y < height - 1) {
        const at = starts[keys[2 * i + 1]]++;
        edges[at] = 2 * i + 1;
        weights[at] = keys[2 * i + 1] / 4;
      }
    }
  }
  return { edges, weights };
}
