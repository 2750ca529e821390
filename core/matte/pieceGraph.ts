import type { DepthMap, Picture8 } from '../raster/picture';
import type { Likeness } from './likeness';
import { proposePieces, type Pieces } from '../raster/pieces';

/** How coarse the pieces of a region are, and the px that the smallest have (pieces.ts). */
const SCALE = 20;
const SMALLEST = 12;

/** Pairs of touching pieces: a, b, and how alike the neighbours along their border are, summed up. */
export interface PieceBorders {
  readonly a: Int32Array;
  readonly b: Int32Array;
  readonly likeness: Float32Array;
}

/** A picture's pieces, what they look like, and where they lie. */
export class PieceGraph {
  readonly pieces: Pieces;
  /** Mean colour of each piece: r, g, b. */
  readonly mean: Float32Array;
  /** Px of each piece. */
  readonly size: Float32Array;
  /** left, top, right, bottom of each piece, px. */
  readonly boxes: Int32Array;

  /** @param depth pieces end where it jumps, too @default colours alone */
  constructor(picture: Picture8, depth?: DepthMap) {
    this.pieces = proposePieces(picture, { scale: SCALE, smallest: SMALLEST, ...(depth ? { depth } : {}) });
    const { count, of: pieceAt } = this.pieces;
    this.mean = new Float32Array(count * 3);
    this.size = new Float32Array(count);
    this.boxes = new Int32Array(count * 4);
    const { data, width, height } = picture;
    for (let p = 0; p < count; p++) {
      this.boxes[p * 4] = width;
      this.boxes[p * 4 + 1] = height;
    }
    for (let i = 0, x = 0, y = 0; i < pieceAt.length; i++, x++) {
      if (x === width) {
        x = 0;
        y++;
      }
      const p = pieceAt[i];
      const box = p * 4;
      if (x < this.boxes[box]) this.boxes[box] = x;
      if (y < this.boxes[box + 1]) this.boxes[box + 1] = y;
      if (x >= this.boxes[box + 2]) this.boxes[box + 2] = x + 1;
      this.boxes[box + 3] = y + 1;
      this.size[p]++;
      this.mean[p * 3] += data[i * 4];
      this.mean[p * 3 + 1] += data[i * 4 + 1];
      this.mean[p * 3 + 2] += data[i * 4 + 2];
    }
    for (let p = 0; p < count; p++) for (let c = 0; c < 3; c++) this.mean[p * 3 + c] /= this.size[p];
  }

  /** Mean depth of each piece, 0 to 65535. */
  depths({ data }: DepthMap): Float32Array {
    const { count, of: pieceAt } = this.pieces;
    const mean = new Float32Array(count);
    for (let i = 0; i < pieceAt.length; i++) mean[pieceAt[i]] += data[i];
    for (let p = 0; p < count; p++) mean[p] /= this.size[p];
    return mean;
  }

  borders(likeness: Likeness): PieceBorders {
    const { width, height, of: pieceAt, count } = this.pieces;
    const sums = new Map<number, number>();
    const note = (i: number, j: number): void => {
      const a = Math.min(pieceAt[i], pieceAt[j]);
      const b = Math.max(pieceAt[i], pieceAt[j]);
      if (a === b) return;
      const key = a * count + b;
      sums.set(key, (sums.get(key) ?? 0) + likeness.between(i, j));
    };
    for (let y = 0, i = 0; y < height; y++) {
      for (let x = 0; x < width; x++, i++) {
        if (x < width - 1) note(i, i + 1);
        if (y < height - 1) note(i, i + width);
      }
    }
    const a = new Int32Array(sums.size);
    const b = new Int32Array(sums.size);
    const alike = new Float32Array(sums.size);
    let n = 0;
    for (const [key, sum] of sums) {
      a[n] = Math.floor(key / count);
      b[n] = key % count;
      alike[n++] = sum;
    }
    return { a, b, likeness: alike };
  }
}
