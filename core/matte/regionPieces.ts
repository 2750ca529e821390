import { CoreError } from '../error';
import type { Mask, Picture8 } from '../raster/picture';
import { ColourModel } from './colourModel';
import { Likeness } from './likeness';
import { FlowGraph } from './maxFlow';
import { proposePieces, type Pieces } from './pieces';
import { BorderBand, decideBorder, type BorderGround } from './regionBorder';
import { HARD, lean, partingCost } from './regionCosts';
import { STROKE_IN, STROKE_OUT, type Strokes } from './strokes';

/** Pixels to each side of the pieces' border that are decided one by one. */
const BAND = 2;
/** A colour model learns from this many pieces at most. */
const LEARN_FROM = 3000;

/** What strokes mean, 255 in and 0 out, and what its inside and its outside look like. */
export interface Region {
  readonly mask: Mask;
  readonly models: BorderGround['models'];
}

/**
 * Grows a region over a picture's pieces. Made once for a picture; each new stroke is then solved anew over its
 * pieces, and pixel by
 * pixel only along the border that comes out.
 *
 * Source: Rother, Kolmogorov and Blake, "GrabCut", SIGGRAPH 2004; solved over pieces first as in Li, Sun, Tang and Shum,
 * "Lazy snapping", SIGGRAPH 2004.
 */
export class RegionPieces {
  private readonly pieces: Pieces;
  private readonly mean: Float32Array;
  private readonly size: Float32Array;
  /** Pairs of touching pieces: a, b, and the sum of their border's smoothness. */
  private readonly borders: { readonly a: Int32Array; readonly b: Int32Array; readonly weight: Float32Array };
  private readonly likeness: Likeness;
  /** left, top, right, bottom of each piece, px. */
  private readonly boxes: Int32Array;
  /** What the strokes meant last time: only what changes against it is decided anew. */
  private last: { readonly sides: Uint8Array; readonly strokes: Uint8Array; readonly out: Uint8Array } | undefined;

  constructor(private readonly picture: Picture8) {
    this.pieces = proposePieces(picture, { scale: 40, smallest: 12 });
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
    this.likeness = new Likeness(picture);
    this.borders = this.findBorders();
  }

  private findBorders(): RegionPieces['borders'] {
    const { width, height, of: pieceAt, count } = this.pieces;
    const sums = new Map<number, number>();
    const note = (i: number, j: number): void => {
      const a = Math.min(pieceAt[i], pieceAt[j]);
      const b = Math.max(pieceAt[i], pieceAt[j]);
      if (a === b) return;
      const key = a * count + b;
      sums.set(key, (sums.get(key) ?? 0) + this.likeness.between(i, j));
    };
    for (let y = 0, i = 0; y < height; y++) {
      for (let x = 0; x < width; x++, i++) {
        if (x < width - 1) note(i, i + 1);
        if (y < height - 1) note(i, i + width);
      }
    }
    const a = new Int32Array(sums.size);
    const b = new Int32Array(sums.size);
    const weight = new Float32Array(sums.size);
    let n = 0;
    for (const [key, w] of sums) {
      a[n] = Math.floor(key / count);
      b[n] = key % count;
      weight[n++] = w;
    }
    return { a, b, weight };
  }

  /**
   * The region that the strokes mean: 255 in, 0 out, and what in and out look like. A stroked pixel always keeps its side.
   * @throws CoreError `no-strokes` where there is no stroke of one of the two kinds
   */
  solve(strokes: Strokes): Region {
    const { of: pieceAt, count } = this.pieces;
    const inside = new Int32Array(count);
    const outside = new Int32Array(count);
    let any = 0;
    for (let i = 0; i < pieceAt.length; i++) {
      if (strokes.data[i] === STROKE_IN) {
        inside[pieceAt[i]]++;
        any |= 1;
      } else if (strokes.data[i] === STROKE_OUT) {
        outside[pieceAt[i]]++;
        any |= 2;
      }
    }
    if (any !== 3)
      throw new CoreError(
        'no-strokes',
        `There is no stroke that says "${any === 1 ? 'out' : 'in'}". A region is grown from at least one stroke in and one out.`,
      );
    let models: Region['models'] = [this.learn((p) => inside[p]), this.learn((p) => outside[p])];
    let sides = this.cutPieces(models, inside, outside);
    // Once more, from what came out beside the strokes: colours that no stroke has met are known then.
    models = [
      this.learn((p) => (sides[p] ? 0.2 * this.size[p] : 0) + inside[p]),
      this.learn((p) => (sides[p] ? 0 : 0.2 * this.size[p]) + outside[p]),
    ];
    sides = this.cutPieces(models, inside, outside);
    return { mask: this.refine(sides, strokes, models), models };
  }

  private learn(weight: (piece: number) => number): ColourModel {
    let chosen: number[] = [];
    for (let p = 0; p < this.pieces.count; p++) if (weight(p) > 0) chosen.push(p);
    const every = Math.ceil(chosen.length / LEARN_FROM);
    if (every > 1) chosen = chosen.filter((_, n) => n % every === 0);
    const colours = new Float32Array(chosen.length * 3);
    const weights = new Float32Array(chosen.length);
    chosen.forEach((p, n) => {
      for (let c = 0; c < 3; c++) colours[n * 3 + c] = this.mean[p * 3 + c];
      weights[n] = weight(p);
    });
    return new ColourModel(colours, weights);
  }

  /** 1 for the pieces that are in. */
  private cutPieces([inModel, outModel]: Region['models'], inside: Int32Array, outside: Int32Array): Uint8Array {
    const { count } = this.pieces;
    const { a, b, weight } = this.borders;
    const graph = new FlowGraph(count, a.length);
    for (let p = 0; p < count; p++) {
      if (inside[p] !== outside[p]) {
        graph.addTerminal(p, inside[p] > outside[p] ? HARD : 0, inside[p] > outside[p] ? 0 : HARD);
        continue;
      }
      const r = this.mean[p * 3];
      const g = this.mean[p * 3 + 1];
      const bl = this.mean[p * 3 + 2];
      lean(graph, p, (outModel.cost(r, g, bl) - inModel.cost(r, g, bl)) * this.size[p]);
    }
    for (let e = 0; e < a.length; e++) graph.addEdge(a[e], b[e], partingCost(weight[e]));
    graph.solve();
    const sides = new Uint8Array(count);
    for (let p = 0; p < count; p++) sides[p] = graph.onSourceSide(p) ? 1 : 0;
    return sides;
  }

  /**
   * Decides the pixels near the pieces' border, and those whose stroke contradicts their piece, one by one: everywhere the first
   * time, later only in and around the pieces that changed sides or were stroked.
   */
  private refine(sides: Uint8Array, strokes: Strokes, models: Region['models']): Mask {
    const { width, height, of: pieceAt, count } = this.pieces;
    const n = width * height;
    const { last } = this;
    const out = last ? last.out.slice() : new Uint8Array(n);
    const touched = new Uint8Array(count);
    if (last) {
      for (let p = 0; p < count; p++) if (sides[p] !== last.sides[p]) touched[p] = 1;
      for (let i = 0; i < n; i++) if (strokes.data[i] !== last.strokes[i]) touched[pieceAt[i]] = 1;
    } else touched.fill(1);
    for (let i = 0; i < n; i++) if (touched[pieceAt[i]]) out[i] = sides[pieceAt[i]] ? 255 : 0;
    const band = new BorderBand(width, height, BAND);
    if (!last) for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) band.look(x, y, out, strokes);
    else {
      for (let p = 0; p < count; p++) {
        if (!touched[p]) continue;
        const [left, top, right, bottom] = this.boxes.subarray(p * 4, p * 4 + 4);
        for (let y = Math.max(0, top - 1); y < bottom; y++) {
          for (let x = Math.max(0, left - 1); x < right; x++) {
            const i = y * width + x;
            if (
              pieceAt[i] === p ||
              (x < width - 1 && pieceAt[i + 1] === p) ||
              (y < height - 1 && pieceAt[i + width] === p)
            )
              band.look(x, y, out, strokes);
          }
        }
      }
    }
    decideBorder(out, band, { picture: this.picture, likeness: this.likeness, strokes, models });
    this.last = { sides, strokes: strokes.data.slice(), out: out.slice() };
    return { width, height, data: out };
  }
}
