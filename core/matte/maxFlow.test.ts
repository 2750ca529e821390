import { seeded } from '@/tests/support/chance';
import { FlowGraph } from './maxFlow';

interface Edge {
  readonly a: number;
  readonly b: number;
  readonly c: number;
}

/** Cost of a cut: edges between the sides, and terminals cut from their node. */
function cost(
  side: (n: number) => boolean,
  terminals: readonly (readonly [number, number])[],
  edges: readonly Edge[],
): number {
  let sum = 0;
  terminals.forEach(([s, t], n) => {
    sum += side(n) ? t : s;
  });
  for (const { a, b, c } of edges) if (side(a) !== side(b)) sum += c;
  return sum;
}

function solved(terminals: readonly (readonly [number, number])[], edges: readonly Edge[]): FlowGraph {
  const graph = new FlowGraph(terminals.length, edges.length);
  terminals.forEach(([s, t], n) => {
    graph.addTerminal(n, s, t);
  });
  for (const { a, b, c } of edges) graph.addEdge(a, b, c);
  graph.solve();
  return graph;
}

describe('FlowGraph', () => {
  test('a chain is cut at its weakest edge', () => {
    const terminals = [
      [100, 0],
      [0, 0],
      [0, 0],
      [0, 100],
    ] as const;
    const graph = solved(terminals, [
      { a: 0, b: 1, c: 9 },
      { a: 1, b: 2, c: 4 },
      { a: 2, b: 3, c: 7 },
    ]);
    expect([0, 1, 2, 3].map((n) => graph.onSourceSide(n))).toEqual([true, true, false, false]);
  });

  test('the cut of random graphs is the cheapest of all cuts', () => {
    const chance = seeded(11);
    for (let round = 0; round < 200; round++) {
      const n = 3 + Math.floor(chance() * 8);
      const terminals = Array.from(
        { length: n },
        () => [Math.floor(chance() * 20), Math.floor(chance() * 20)] as const,
      );
      const edges: Edge[] = [];
      for (let a = 0; a < n; a++)
        for (let b = a + 1; b < n; b++) if (chance() < 0.6) edges.push({ a, b, c: Math.floor(chance() * 15) });
      const graph = solved(terminals, edges);
      let best = Infinity;
      for (let bits = 0; bits < 1 << n; bits++)
        best = Math.min(
          best,
          cost((v) => ((bits >> v) & 1) === 1, terminals, edges),
        );
      expect(cost((v) => graph.onSourceSide(v), terminals, edges)).toBe(best);
    }
  });

  test('a grid of a thousand nodes between two sides is cut along its dear-free seam', () => {
    const w = 40;
    const h = 25;
    const edges: Edge[] = [];
    const seam = (x: number, y: number): boolean => x === 10 + (y % 7);
    for (let y = 0; y < h; y++) {
      for (let x = 0; x < w; x++) {
        if (x < w - 1) edges.push({ a: y * w + x, b: y * w + x + 1, c: seam(x, y) ? 1 : 50 });
        if (y < h - 1) edges.push({ a: y * w + x, b: (y + 1) * w + x, c: 1 });
      }
    }
    const terminals = Array.from(
      { length: w * h },
      (_, n) => [n % w === 0 ? 1000 : 0, n % w === w - 1 ? 1000 : 0] as const,
    );
    const graph = solved(terminals, edges);
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) expect(graph.onSourceSide(y * w + x)).toBe(x <= 10 + (y % 7));
  });
});
