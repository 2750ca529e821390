import { unionRect, type Rect } from '../raster/geometry';

/** So small a difference of colour is grain, 8-bit steps over three channels. */
const GRAIN = 6;

/**
 * Where a brush is stopped by edges of the picture: paint runs from the pen's way over what the brush covers, and
 * each difference of colour
 * beyond grain that it has to cross costs. What costs as much as an edge is not reached (the cheapest way; places are
 * handed on until none gets cheaper, so that nothing depends on the order).
 */
export class EdgeStop {
  private readonly cost: Float32Array;
  private waiting: number[] = [];

  /**
   * @param colours RGBA of 8 bits, premultiplied, of the part in which the stroke lies
   * @param coverage of the stroke there; paint runs where it is above 0
   * @param edge so large a difference is an edge, 8-bit steps over three channels
   */
  constructor(
    private readonly size: { readonly width: number; readonly height: number },
    private readonly colours: Uint8Array | Uint8ClampedArray,
    private readonly coverage: Uint16Array,
    private readonly edge: number,
  ) {
    this.cost = new Float32Array(size.width * size.height).fill(Infinity);
  }

  /** The pen goes over a place: from there paint runs. */
  seed(place: number): void {
    if (this.cost[place] === 0) return;
    this.cost[place] = 0;
    this.waiting.push(place);
  }

  /** A place is covered that was not before: paint may run into it now. */
  open(place: number): void {
    this.around(place, (from) => {
      // A neighbour that is reached already hands on once more.
      if (this.cost[from] < this.edge) this.waiting.push(from);
    });
  }

  /** Lets paint run. @returns what is reached, or more easily than before */
  run(): Rect | undefined {
    const { cost, coverage, edge } = this;
    const { width } = this.size;
    let changed: Rect | undefined;
    let turn = this.waiting;
    while (turn.length > 0) {
      const next: number[] = [];
      let [left, top, right, bottom] = [Infinity, Infinity, -1, -1];
      for (const place of turn) {
        const x = place % width;
        const y = (place - x) / width;
        left = Math.min(left, x);
        right = Math.max(right, x + 1);
        top = Math.min(top, y);
        bottom = Math.max(bottom, y + 1);
        this.around(place, (to) => {
          if (coverage[to] === 0) return;
          const there = cost[place] + Math.max(0, this.difference(place, to) - GRAIN);
          if (there >= edge || there >= cost[to]) return;
          cost[to] = there;
          next.push(to);
        });
      }
      changed = unionRect(changed, { left, top, right, bottom });
      turn = next;
    }
    this.waiting = [];
    return changed;
  }

  /** How much of the brush's paint a place takes, 0 to 1: all of it up to half an edge's cost, then less. */
  share(place: number): number {
    const t = 2 - (2 * this.cost[place]) / this.edge;
    if (!(t > 0)) return 0;
    return t >= 1 ? 1 : t * t * (3 - 2 * t);
  }

  private difference(a: number, b: number): number {
    const p = this.colours;
    return (
      Math.abs(p[4 * a] - p[4 * b]) + Math.abs(p[4 * a + 1] - p[4 * b + 1]) + Math.abs(p[4 * a + 2] - p[4 * b + 2])
    );
  }

  private around(place: number, visit: (neighbour: number) => void): void {
    const { width, height } = this.size;
    const x = place % width;
    if (x > 0) visit(place - 1);
    if (x < width - 1) visit(place + 1);
    if (place >= width) visit(place - width);
    if (place < width * (height - 1)) visit(place + width);
  }
}
