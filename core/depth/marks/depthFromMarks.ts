import { fastGlobalSmoother } from '../../raster/fastGlobalSmoother';
import { labOf } from '../../raster/lab';
import type { Picture8 } from '../../raster/picture';
import { REACH, REACHES } from './covariance';
import { foretellNodes, type NodeDepths } from './foretellNodes';
import { FEATURES, LAB_UNITS, WAYS_TO_DIVIDE, type MarkGround, type Nodes } from './nodes';
import { regress, type Relation } from './regress';
import { samplesOf, type Mark } from './samples';
import { smoothFromMarks, smoothLeftOut, type DepthMark } from './smoothFromMarks';

export interface FromMarks {
  readonly relations?: readonly Relation[];
  /** By several ways to divide the picture and to be alike, in the mean: takes twelve times as long. @default false */
  readonly exact?: boolean;
  /**
   * look: what looks alike is alike in depth; edges: depth spreads up to the picture's edges; both: where the picture
   * is grey, and
   * look says less, the mean of the two, the one by which marks foretell each other better counting more. @default
   * 'both'
   */
  readonly method?: 'look' | 'edges' | 'both';
  /** What marks say are differences, -1 to 1, not depths. @default false */
  readonly differences?: boolean;
}

/** Below this mean chroma (of CIELAB, over 66) a picture is grey. */
const GREY = 0.05;
/** Depth may leave the range of the marks by so much. */
const BEYOND = 0.02;
/** Within a node depth may differ from the node's by so much. */
const WITHIN = 0.15;
const SMOOTHING = { lambda: 100, sigma: 6 };

/**
 * A whole depth map from a few marks: what is alike in place, colour, surroundings and texture is alike in depth, and
 * planes go on.
 * @param picture that the ground was made of
 * @returns depth 0 to 1 a pixel; undefined where no mark has a depth
 */
export function depthFromMarks(
  picture: Picture8,
  ground: MarkGround,
  marks: readonly Mark[],
  { relations = [], exact = false, method = 'both', differences = false }: FromMarks = {},
): Float32Array | undefined {
  const { width, height } = ground;
  const deep = marks.filter((mark): mark is DepthMark => mark.depth !== undefined);
  if (deep.length === 0) return undefined;
  if (method === 'edges') return smoothFromMarks(picture, deep);
  const known = deep.map(({ depth }) => depth);
  const least = Math.max(differences ? -1 : 0, Math.min(...known) - BEYOND);
  const most = Math.min(1, Math.max(...known) + BEYOND);
  const out = new Float32Array(width * height);
  const colours = ground.lab ?? labOf(picture);
  const ways = exact ? WAYS_TO_DIVIDE : 1;
  for (let way = 0; way < ways; way++) {
    const nodes = ground.nodes(way);
    const said = foretold(ground, nodes, marks, { relations, exact });
    for (let n = 0; n < nodes.count; n++) said.depths[n] = Math.min(most, Math.max(least, said.depths[n]));
    addPixels(out, { ground, nodes, said, colours, share: 1 / ways });
  }
  fastGlobalSmoother(out, picture.data, { width, height, ...SMOOTHING });
  const share = method === 'both' ? shareOfEdges(picture, ground, marks, deep) : 0;
  const spread = share > 0 ? smoothFromMarks(picture, deep) : out;
  for (let i = 0; i < out.length; i++) out[i] = Math.min(most, Math.max(least, out[i] + share * (spread[i] - out[i])));
  return out;
}

/** How much what spreads up to edges counts beside what looks alike, 0 to 1. */
function shareOfEdges(
  picture: Picture8,
  ground: MarkGround,
  marks: readonly Mark[],
  deep: readonly DepthMark[],
): number {
  if (ground.chroma >= GREY || deep.length < 2) return 0;
  const byLook = regress(samplesOf(ground, ground.nodes(0), marks), marks, [], REACH).leftOut() ** 2;
  const byEdges = smoothLeftOut(picture, deep) ** 2;
  return byLook / Math.max(1e-9, byLook + byEdges);
}

/** What is said of every node, in the mean of the ways to be alike; those that foretell marks better count more. */
function foretold(
  ground: MarkGround,
  nodes: Nodes,
  marks: readonly Mark[],
  { relations = [], exact }: FromMarks,
): NodeDepths {
  const samples = samplesOf(ground, nodes, marks);
  const depths = new Float32Array(nodes.count);
  const slopes = new Float32Array(nodes.count * 5);
  let whole = 0;
  for (const reach of exact ? REACHES : [REACH]) {
    const regression = regress(samples, marks, relations, reach);
    const share = 1 / Math.max(1e-4, exact ? regression.leftOut() : 1);
    const said = foretellNodes(nodes, regression);
    for (let n = 0; n < depths.length; n++) depths[n] += share * said.depths[n];
    for (let n = 0; n < slopes.length; n++) slopes[n] += share * said.slopes[n];
    whole += share;
  }
  return { depths: depths.map((v) => v / whole), slopes: slopes.map((v) => v / whole) };
}

interface Laying {
  readonly ground: MarkGround;
  readonly nodes: Nodes;
  readonly said: NodeDepths;
  /** CIELAB of every pixel of the picture. */
  readonly colours: Float32Array;
  readonly share: number;
}

/** Lays the nodes' depths on their pixels: by how these differ from their node in place and colour. */
function addPixels(out: Float32Array, { ground, nodes, said, colours, share }: Laying): void {
  const { width, height, halvings, rowLength } = ground;
  const { labels, features } = nodes;
  const { depths, slopes } = said;
  const longer = Math.max(width, height);
  const [unitL, unitA, unitB] = LAB_UNITS;
  for (let y = 0, i = 0; y < height; y++) {
    const row = (y >> halvings) * rowLength;
    for (let x = 0; x < width; x++, i++) {
      const n = labels[row + (x >> halvings)];
      const k = n * 5;
      const f = n * FEATURES;
      const differs =
        slopes[k] * ((x + 0.5) / longer - features[f]) +
        slopes[k + 1] * ((y + 0.5) / longer - features[f + 1]) +
        slopes[k + 2] * (colours[i * 3] / unitL - features[f + 2]) +
        slopes[k + 3] * (colours[i * 3 + 1] / unitA - features[f + 3]) +
        slopes[k + 4] * (colours[i * 3 + 2] / unitB - features[f + 4]);
      let held = differs < WITHIN ? differs : WITHIN;
      if (held < -WITHIN) held = -WITHIN;
      out[i] += share * (depths[n] + held);
    }
  }
}
