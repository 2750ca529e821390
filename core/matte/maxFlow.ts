const NONE = -1;
const TERMINAL = -2;
const ORPHAN = -3;
const FREE = 0;
const SOURCE = 1;
const SINK = 2;

/**
 * A graph between a source and a sink whose cheapest cut is found by maximum flow with two search trees.
 * Capacities are whole numbers up to 2^30, so that the result is the same everywhere.
 *
 * Source: Boykov and Kolmogorov, "An experimental comparison of min-cut/max-flow algorithms for energy minimization in vision",
 * PAMI 26(9), 2004.
 */
export class FlowGraph {
  private readonly first: Int32Array;
  private readonly head: Int32Array;
  private readonly next: Int32Array;
  private readonly left: Int32Array;
  /** What is left towards the source (positive) or the sink (negative). */
  private readonly terminal: Int32Array;
  private readonly parent: Int32Array;
  private readonly tree: Uint8Array;
  private readonly stamp: Int32Array;
  private readonly distance: Int32Array;
  private readonly waiting: Int32Array;
  private readonly isWaiting: Uint8Array;
  private arcs = 0;
  private time = 0;
  private queueFrom = 0;
  private queueTo = 0;
  private readonly orphans: number[] = [];

  /** @param edges most edges that will be added */
  constructor(
    readonly nodes: number,
    edges: number,
  ) {
    this.first = new Int32Array(nodes).fill(NONE);
    this.head = new Int32Array(edges * 2);
    this.next = new Int32Array(edges * 2);
    this.left = new Int32Array(edges * 2);
    this.terminal = new Int32Array(nodes);
    this.parent = new Int32Array(nodes).fill(NONE);
    this.tree = new Uint8Array(nodes);
    this.stamp = new Int32Array(nodes);
    this.distance = new Int32Array(nodes);
    this.waiting = new Int32Array(nodes + 1);
    this.isWaiting = new Uint8Array(nodes);
  }

  /** Adds to what it costs to cut a node from the source (it ends on the sink's side) and from the sink. */
  addTerminal(node: number, fromSource: number, toSink: number): void {
    this.terminal[node] += fromSource - toSink;
  }

  /** Adds an edge that costs `capacity` to cut, in both directions. */
  addEdge(a: number, b: number, capacity: number): void {
    this.addArc(a, b, capacity);
    this.addArc(b, a, capacity);
  }

  private addArc(from: number, to: number, capacity: number): void {
    const arc = this.arcs++;
    this.head[arc] = to;
    this.left[arc] = capacity;
    this.next[arc] = this.first[from];
    this.first[from] = arc;
  }

  /** True where a node stands on the source's side of the cut; what the cut leaves free counts as the sink's. */
  onSourceSide(node: number): boolean {
    return this.tree[node] === SOURCE;
  }

  /** Finds the cheapest cut. */
  solve(): void {
    const { terminal, tree, parent, distance, first, next, head, left, stamp } = this;
    for (let n = 0; n < this.nodes; n++) {
      if (terminal[n] === 0) continue;
      tree[n] = terminal[n] > 0 ? SOURCE : SINK;
      parent[n] = TERMINAL;
      distance[n] = 1;
      this.activate(n);
    }
    for (let node = this.takeActive(); node >= 0;) {
      let bridge = NONE;
      const side = tree[node];
      for (let arc = first[node]; arc >= 0; arc = next[arc]) {
        // The source's tree grows along what is left, the sink's against it.
        if (left[side === SOURCE ? arc : arc ^ 1] === 0) continue;
        const other = head[arc];
        if (tree[other] === FREE) {
          tree[other] = side;
          parent[other] = arc ^ 1;
          stamp[other] = stamp[node];
          distance[other] = distance[node] + 1;
          this.activate(other);
        } else if (tree[other] !== side) {
          bridge = side === SOURCE ? arc : arc ^ 1;
          break;
        } else if (stamp[other] <= stamp[node] && distance[other] > distance[node]) {
          parent[other] = arc ^ 1;
          stamp[other] = stamp[node];
          distance[other] = distance[node] + 1;
        }
      }
      this.time++;
      if (bridge === NONE) {
        node = this.takeActive();
        continue;
      }
      this.augment(bridge);
      while (this.orphans.length > 0) this.adopt(this.orphans.pop() as number);
      // The same node may have more paths, if it still belongs to a tree.
      if (tree[node] === FREE) node = this.takeActive();
    }
  }

  private activate(node: number): void {
    if (this.isWaiting[node]) return;
    this.isWaiting[node] = 1;
    this.waiting[this.queueTo] = node;
    this.queueTo = this.queueTo === this.nodes ? 0 : this.queueTo + 1;
  }

  private takeActive(): number {
    while (this.queueFrom !== this.queueTo) {
      const node = this.waiting[this.queueFrom];
      this.queueFrom = this.queueFrom === this.nodes ? 0 : this.queueFrom + 1;
      this.isWaiting[node] = 0;
      if (this.tree[node] !== FREE) return node;
    }
    return -1;
  }

  /** Pushes as much as fits along the path over `bridge`, an arc from the source's tree to the sink's. */
  private augment(bridge: number): void {
    const { parent, left, head, terminal, orphans } = this;
    let push = left[bridge];
    let n = head[bridge ^ 1];
    for (; parent[n] !== TERMINAL; n = head[parent[n]]) push = Math.min(push, left[parent[n] ^ 1]);
    push = Math.min(push, terminal[n]);
    for (n = head[bridge]; parent[n] !== TERMINAL; n = head[parent[n]]) push = Math.min(push, left[parent[n]]);
    push = Math.min(push, -terminal[n]);

    left[bridge] -= push;
    left[bridge ^ 1] += push;
    for (n = head[bridge ^ 1]; parent[n] !== TERMINAL;) {
      const arc = parent[n];
      const up = head[arc];
      left[arc] += push;
      left[arc ^ 1] -= push;
      if (left[arc ^ 1] === 0) {
        parent[n] = ORPHAN;
        orphans.push(n);
      }
      n = up;
    }
    terminal[n] -= push;
    if (terminal[n] === 0) {
      parent[n] = ORPHAN;
      orphans.push(n);
    }
    for (n = head[bridge]; parent[n] !== TERMINAL;) {
      const arc = parent[n];
      const up = head[arc];
      left[arc ^ 1] += push;
      left[arc] -= push;
      if (left[arc] === 0) {
        parent[n] = ORPHAN;
        orphans.push(n);
      }
      n = up;
    }
    terminal[n] += push;
    if (terminal[n] === 0) {
      parent[n] = ORPHAN;
      orphans.push(n);
    }
  }

  /**
   * Finds an orphan a new parent of its own side that still hangs on the terminal, or sets it free with its children
   * orphaned.
   */
  private adopt(node: number): void {
    const { first, next, head, left, tree, parent, stamp, distance, time } = this;
    const side = tree[node];
    let best = NONE;
    let shortest = Infinity;
    for (let arc = first[node]; arc >= 0; arc = next[arc]) {
      if (left[side === SOURCE ? arc ^ 1 : arc] === 0) continue;
      let n = head[arc];
      if (tree[n] !== side || parent[n] === NONE) continue;
      let d = 0;
      for (;;) {
        if (stamp[n] === time) {
          d += distance[n];
          break;
        }
        const up = parent[n];
        d++;
        if (up === TERMINAL) {
          stamp[n] = time;
          distance[n] = 1;
          break;
        }
        if (up === ORPHAN) {
          d = Infinity;
          break;
        }
        n = head[up];
      }
      if (d === Infinity) continue;
      if (d < shortest) {
        best = arc;
        shortest = d;
      }
      for (n = head[arc]; stamp[n] !== time; n = head[parent[n]]) {
        stamp[n] = time;
        distance[n] = d--;
      }
    }
    if (best !== NONE) {
      parent[node] = best;
      stamp[node] = time;
      distance[node] = shortest + 1;
      return;
    }
    for (let arc = first[node]; arc >= 0; arc = next[arc]) {
      const n = head[arc];
      if (tree[n] !== side || parent[n] === NONE) continue;
      if (left[side === SOURCE ? arc ^ 1 : arc] > 0) this.activate(n);
      const up = parent[n];
      if (up >= 0 && head[up] === node) {
        parent[n] = ORPHAN;
        this.orphans.push(n);
      }
    }
    tree[node] = FREE;
    parent[node] = NONE;
  }
}
