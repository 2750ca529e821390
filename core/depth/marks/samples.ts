import { FEATURES, type MarkGround, type Nodes } from './nodes';

/** A place whose depth is known, or stands in a relation to another's. */
export interface Mark {
  /** Its pixels, by number in the picture. */
  readonly pixels: ArrayLike<number>;
  /** 0 farthest to 1 nearest. @default not known: the mark only stands in relations */
  readonly depth?: number;
}

/** Where the regression looks: each mark at the nodes that hold most of it. */
export interface Samples {
  readonly count: number;
  /** As of nodes; the place is the mean one of the mark's pixels. */
  readonly features: Float32Array;
  /** The mark of each. */
  readonly marks: Int32Array;
  /** So many pixels of the mark each holds. */
  readonly pixels: Float32Array;
}

/** A mark is looked at in so many nodes, each with so many of its pixels at least. */
const MOST = 4;
/**
 * So many are looked at in all, but one a mark: the regression's room grows with their square, its time with their
 * cube.
 */
const MOST_IN_ALL = 1200;
const LEAST = 3;
/** A node holds nearly as much of a mark as another where it holds such a share of its pixels. */
const NEARLY = 0.5;

/** So many of a mark's pixels lie in a node, with the sums of their places. */
interface Held {
  readonly node: number;
  many: number;
  x: number;
  y: number;
}

/** @param nodes one of the ground's two */
export function samplesOf(ground: MarkGround, nodes: Nodes, marks: readonly Mark[]): Samples {
  const { width, height, halvings, rowLength } = ground;
  const features: number[] = [];
  const owners: number[] = [];
  const pixels: number[] = [];
  const longer = Math.max(width, height);
  const most = Math.max(1, Math.min(MOST, Math.floor(MOST_IN_ALL / marks.length)));
  marks.forEach((mark, m) => {
    const held = new Map<number, Held>();
    for (let k = 0; k < mark.pixels.length; k++) {
      const i = mark.pixels[k];
      const x = i % width;
      const y = Math.floor(i / width);
      const node = nodes.labels[(y >> halvings) * rowLength + (x >> halvings)];
      let sum = held.get(node);
      if (!sum) held.set(node, (sum = { node, many: 0, x: 0, y: 0 }));
      sum.many++;
      sum.x += x + 0.5;
      sum.y += y + 0.5;
    }
    for (const node of spread([...held.values()], most)) {
      features.push(node.x / node.many / longer, node.y / node.many / longer);
      for (let c = 2; c < FEATURES; c++) features.push(nodes.features[node.node * FEATURES + c]);
      owners.push(m);
      pixels.push(node.many);
    }
  });
  return {
    count: owners.length,
    features: Float32Array.from(features),
    marks: Int32Array.from(owners),
    pixels: Float32Array.from(pixels),
  };
}

/**
 * The node that holds most of a mark, and those that hold nearly as much and lie farthest from the ones taken: a long
 * stroke speaks for all of its length.
 */
function spread(held: readonly Held[], places: number): Held[] {
  const most = Math.max(...held.map(({ many }) => many));
  const rest = held.filter(({ many }) => many >= Math.max(LEAST, most * NEARLY));
  // A mark of a few pixels is looked at all the same.
  const first = held.find(({ many }) => many === most)!;
  const taken = [first];
  const far = (a: Held, b: Held): number => Math.hypot(a.x / a.many - b.x / b.many, a.y / a.many - b.y / b.many);
  while (taken.length < places) {
    const ranked = rest
      .filter((node) => !taken.includes(node))
      .map((node) => ({ node, by: Math.min(...taken.map((t) => far(node, t))) }));
    if (ranked.length === 0) break;
    taken.push(ranked.reduce((a, b) => (b.by > a.by ? b : a)).node);
  }
  return taken;
}
