import type { DepthMap, Picture8 } from '../raster/picture';
import type { Likeness } from './likeness';
import { FlowGraph } from './maxFlow';
import { HARD, lean, partingCost } from './regionCosts';
import type { SideModel } from './sideModel';
import { STROKE_IN, STROKE_OUT, type Strokes } from './strokes';

/** What a border is decided by: the colours, how alike neighbours are, the strokes, and what in and out look like. */
export interface BorderGround {
  readonly picture: Picture8;
  readonly depth: DepthMap | undefined;
  readonly likeness: Likeness;
  readonly strokes: Strokes;
  readonly models: readonly [inside: SideModel, outside: SideModel];
}

/** Pixels that are to be decided one by one: all within a reach of those that are marked. */
export class BorderBand {
  /** Each pixel's place among `pixels`; -1 where it is none of them. */
  readonly node: Int32Array;
  readonly pixels: number[] = [];

  constructor(
    private readonly width: number,
    private readonly height: number,
    private readonly reach: number,
  ) {
    this.node = new Int32Array(width * height).fill(-1);
  }

  /** Marks a pixel of `out` where its right or lower neighbour lies on the other side, or its own stroke says otherwise. */
  look(x: number, y: number, out: Uint8Array, { data }: Strokes): void {
    const { width, height } = this;
    const i = y * width + x;
    if ((x < width - 1 && out[i] !== out[i + 1]) || (y < height - 1 && out[i] !== out[i + width])) this.mark(x, y);
    else if (data[i] !== 0 && (data[i] === STROKE_IN) !== (out[i] === 255)) this.mark(x, y);
  }

  private mark(x: number, y: number): void {
    const { width, height, reach, node, pixels } = this;
    for (let v = Math.max(0, y - reach); v <= Math.min(height - 1, y + reach); v++) {
      for (let u = Math.max(0, x - reach); u <= Math.min(width - 1, x + reach); u++)
        if (node[v * width + u] < 0) {
          node[v * width + u] = pixels.length;
          pixels.push(v * width + u);
        }
    }
  }
}

/** Decides the pixels of a band one by one, in place; all others hold their side. */
export function decideBorder(out: Uint8Array, { node, pixels }: BorderBand, ground: BorderGround): void {
  const {
    picture: { width, height, data },
    depth,
    likeness,
    strokes,
    models: [inside, outside],
  } = ground;
  const graph = new FlowGraph(pixels.length, pixels.length * 2);
  for (let k = 0; k < pixels.length; k++) {
    const i = pixels[k];
    const x = i % width;
    const y = (i - x) / width;
    if (strokes.data[i] === STROKE_IN) graph.addTerminal(k, HARD, 0);
    else if (strokes.data[i] === STROKE_OUT) graph.addTerminal(k, 0, HARD);
    else {
      const at = depth ? depth.data[i] : 0;
      lean(graph, k, outside.cost(data, i * 4, at) - inside.cost(data, i * 4, at));
    }
    const meet = (j: number): void => {
      const cost = partingCost(likeness.between(i, j));
      if (node[j] > k) graph.addEdge(k, node[j], cost);
      else if (node[j] < 0) graph.addTerminal(k, out[j] ? cost : 0, out[j] ? 0 : cost);
    };
    if (x > 0) meet(i - 1);
    if (x < width - 1) meet(i + 1);
    if (y > 0) meet(i - width);
    if (y < height - 1) meet(i + width);
  }
  graph.solve();
  for (let k = 0; k < pixels.length; k++) out[pixels[k]] = graph.onSourceSide(k) ? 255 : 0;
}
