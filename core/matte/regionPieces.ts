import { CoreError } from '../error';
import type { DepthMap, Mask, Picture8 } from '../raster/picture';
import { ColourModel } from './colourModel';
import { DepthCounts, DepthModel } from './depthModel';
import { depthTrust } from './depthTrust';
import { joined } from './joined';
import { Likeness } from './likeness';
import { FlowGraph } from './maxFlow';
import { PieceGraph, type PieceBorders } from './pieceGraph';
import { BorderBand, decideBorder, type BorderGround } from './regionBorder';
import { HARD, lean, partingCost, SMOOTH } from './regionCosts';
import { SideModel } from './sideModel';
import { strokeCores } from './strokeCore';
import { STROKE_IN, STROKE_OUT, type Strokes } from './strokes';

/** Pixels to each side of the pieces' border that are decided one by one. */
const BAND = 2;
/** A colour model learns from this many pieces at most. */
const LEARN_FROM = 3000;
/**
 * A stroke over a thing thinner than itself covers what lies beside it, too. A piece that no core of a stroke meets is only
 * grazed by it where less than this share of it is stroked, and is not meant where out is so much likelier for its colour.
 */
const GRAZED = 0.25;
const LIKELIER = 2;
/** Where another side would come out if edges counted less, or more, than they do, the choice is unsure. */
const LESS = 10;
const MORE = 60;

/** What strokes mean, 255 in and 0 out, and what its inside and its outside look like. */
export interface Region {
  readonly mask: Mask;
  readonly models: BorderGround['models'];
}

/** What is told apart from neighbours, with a depth map or without. */
interface Parting {
  readonly depth: DepthMap | undefined;
  /** Of the depth map: it is painted in place. */
  readonly checksum: number;
  readonly graph: PieceGraph;
  readonly likeness: Likeness;
  readonly borders: PieceBorders;
  /** Mean depth of each piece; undefined without a map. */
  readonly depths: Float32Array | undefined;
}

/** What the strokes say of the pieces: so many px of them in and out. */
interface Said {
  readonly strokes: Strokes;
  readonly inside: Int32Array;
  readonly outside: Int32Array;
}

/** What strokes have made of the pieces. */
interface Grown {
  readonly strokes: Uint8Array;
  readonly parting: Parting;
  readonly sides: Uint8Array;
  readonly models: Region['models'];
  readonly said: Said;
}

/**
 * Grows a region over a picture's pieces. Made once for a picture; each new stroke is then solved anew over its
 * pieces, and pixel by pixel only along the border that comes out.
 *
 * Source: Rother, Kolmogorov and Blake, "GrabCut", SIGGRAPH 2004; solved over pieces first as in Li, Sun, Tang and Shum,
 * "Lazy snapping", SIGGRAPH 2004.
 */
export class RegionPieces {
  private parting: Parting | undefined;
  private grown: Grown | undefined;
  /** What the strokes meant last time: only what changes against it is decided anew. */
  private last: { readonly sides: Uint8Array; readonly strokes: Uint8Array; readonly out: Uint8Array } | undefined;

  constructor(private readonly picture: Picture8) {}

  /**
   * The region that the strokes mean: 255 in, 0 out, and what in and out look like. A stroked pixel always keeps its side.
   * @param depth of the picture's size @default colours alone
   * @throws CoreError `no-strokes` where there is no stroke of one of the two kinds
   */
  solve(strokes: Strokes, depth?: DepthMap): Region {
    const parting = this.partingBy(depth);
    const { sides, models } = this.grow(strokes, parting);
    return { mask: this.refine(sides, { strokes, models, parting }), models };
  }

  /** Where the region is unsure, 255: pieces that change sides where edges count less or more than they do. */
  unsure(strokes: Strokes, depth?: DepthMap): Mask {
    const parting = this.partingBy(depth);
    const { sides, models, said } = this.grow(strokes, parting);
    const others = [LESS, MORE].map((smooth) => this.cutPieces(models, said, parting, smooth));
    const { width, height, of: pieceAt } = parting.graph.pieces;
    const data = Uint8Array.from(pieceAt, (p) => (others.some((other) => other[p] !== sides[p]) ? 255 : 0));
    return { width, height, data };
  }

  /** Kept while the depth map stays the same. */
  private partingBy(depth: DepthMap | undefined): Parting {
    const checksum = depth ? checksumOf(depth) : 0;
    if (this.parting && !!this.parting.depth === !!depth && this.parting.checksum === checksum) return this.parting;
    const likeness = new Likeness(this.picture, depth);
    const graph = new PieceGraph(this.picture, depth);
    this.last = undefined;
    return (this.parting = {
      depth,
      checksum,
      graph,
      likeness,
      borders: graph.borders(likeness),
      depths: depth && graph.depths(depth),
    });
  }

  /** Kept while strokes and depth stay the same: where it is unsure is asked right after it was solved. */
  private grow(strokes: Strokes, parting: Parting): Grown {
    const { grown } = this;
    if (grown?.parting === parting && same(grown.strokes, strokes.data)) return grown;
    const { graph } = parting;
    const said = saidOf(strokes, graph);
    const { inside, outside } = said;
    const { size } = graph;
    // What depths mean is learnt from the strokes alone: what came out beside them may be the same thing farther off.
    const depths = depthModels(said, parting);
    const learn = (inWeight: (p: number) => number, outWeight: (p: number) => number): Region['models'] => [
      new SideModel(learnColours(graph, inWeight), depths.models[0], depths.trust),
      new SideModel(learnColours(graph, outWeight), depths.models[1], depths.trust),
    ];
    let models = learn(
      (p) => inside[p],
      (p) => outside[p],
    );
    const first = this.cutPieces(models, said, parting);
    // Once more, from what came out beside the strokes: colours that no stroke has met are known then.
    models = learn(
      (p) => (first[p] ? 0.2 * size[p] : 0) + inside[p],
      (p) => (first[p] ? 0 : 0.2 * size[p]) + outside[p],
    );
    const sides = this.cutPieces(models, said, parting);
    return (this.grown = { strokes: strokes.data.slice(), parting, sides, models, said });
  }

  /** 1 for the pieces that are in, and joined to a stroke that says so. */
  private cutPieces(
    [inModel, outModel]: Region['models'],
    { inside, outside }: Said,
    { graph: { pieces, mean, size }, borders: { a, b, likeness }, depths }: Parting,
    smooth = SMOOTH,
  ): Uint8Array {
    const { count } = pieces;
    const graph = new FlowGraph(count, a.length);
    for (let p = 0; p < count; p++) {
      if (inside[p] !== outside[p]) {
        graph.addTerminal(p, inside[p] > outside[p] ? HARD : 0, inside[p] > outside[p] ? 0 : HARD);
        continue;
      }
      const depth = depths ? depths[p] : 0;
      lean(graph, p, (outModel.cost(mean, p * 3, depth) - inModel.cost(mean, p * 3, depth)) * size[p]);
    }
    for (let e = 0; e < a.length; e++) graph.addEdge(a[e], b[e], partingCost(likeness[e], smooth));
    graph.solve();
    const sides = new Uint8Array(count);
    for (let p = 0; p < count; p++) sides[p] = graph.onSourceSide(p) ? 1 : 0;
    return joined(pieces, sides, (p) => inside[p] > 0);
  }

  /**
   * Decides the pixels near the pieces' border, and those whose stroke contradicts their piece, one by one: everywhere the first
   * time, later only in and around the pieces that changed sides or were stroked.
   */
  private refine(
    sides: Uint8Array,
    { strokes, models, parting }: Pick<BorderGround, 'strokes' | 'models'> & { readonly parting: Parting },
  ): Mask {
    const { pieces, boxes } = parting.graph;
    const { width, height, of: pieceAt, count } = pieces;
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
        const [left, top, right, bottom] = boxes.subarray(p * 4, p * 4 + 4);
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
    const { depth, likeness } = parting;
    decideBorder(out, band, { picture: this.picture, depth, likeness, strokes, models });
    this.last = { sides, strokes: strokes.data.slice(), out: out.slice() };
    return { width, height, data: out };
  }
}

/** @throws CoreError `no-strokes` */
function saidOf(strokes: Strokes, graph: PieceGraph): Said {
  const {
    pieces: { of: pieceAt, count },
    size,
    mean,
  } = graph;
  const inside = new Int32Array(count);
  const outside = new Int32Array(count);
  const cores = strokeCores(strokes).data;
  const meant = new Uint8Array(count);
  let any = 0;
  for (let i = 0; i < pieceAt.length; i++) {
    if (cores[i] === STROKE_IN) meant[pieceAt[i]] = 1;
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
  const inModel = learnColours(graph, (p) => (meant[p] ? inside[p] : 0));
  const outModel = learnColours(graph, (p) => outside[p]);
  for (let p = 0; p < count; p++) {
    if (meant[p] || inside[p] === 0 || inside[p] >= GRAZED * size[p]) continue;
    const [r, g, b] = mean.subarray(p * 3, p * 3 + 3);
    if (outModel.cost(r, g, b) + LIKELIER < inModel.cost(r, g, b)) inside[p] = 0;
  }
  return { strokes, inside, outside };
}

function learnColours({ pieces, mean }: PieceGraph, weight: (piece: number) => number): ColourModel {
  let chosen: number[] = [];
  for (let p = 0; p < pieces.count; p++) if (weight(p) > 0) chosen.push(p);
  const every = Math.ceil(chosen.length / LEARN_FROM);
  if (every > 1) chosen = chosen.filter((_, n) => n % every === 0);
  const colours = new Float32Array(chosen.length * 3);
  const weights = new Float32Array(chosen.length);
  chosen.forEach((p, n) => {
    for (let c = 0; c < 3; c++) colours[n * 3 + c] = mean[p * 3 + c];
    weights[n] = weight(p);
  });
  return new ColourModel(colours, weights);
}

/** What depths the strokes lie at, in and out, and how far that is to be trusted. */
function depthModels(
  { strokes, inside, outside }: Said,
  { depth, depths }: Parting,
): { readonly trust: number; readonly models: readonly (DepthModel | undefined)[] } {
  const trust = depth ? depthTrust(strokes, depth) : 0;
  if (trust === 0 || !depths) return { trust: 0, models: [] };
  const models = [inside, outside].map((weights) => {
    const counts = new DepthCounts();
    weights.forEach((weight, p) => {
      counts.add(depths[p], weight);
    });
    return new DepthModel(counts);
  });
  return { trust, models };
}

const same = (a: Uint8Array, b: Uint8Array): boolean => a.every((v, i) => v === b[i]);

/** FNV-1a over the depths. Source: Fowler, Noll and Vo, RFC draft "The FNV non-cryptographic hash algorithm". */
function checksumOf({ data }: DepthMap): number {
  let sum = 0x811c9dc5;
  for (let i = 0; i < data.length; i++) sum = Math.imul(sum ^ data[i], 0x01000193);
  return sum >>> 0;
}
