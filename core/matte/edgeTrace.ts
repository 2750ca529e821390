import type { Point } from '../raster/geometry';
import { CoreError } from '../error';
import type { Picture8 } from '../raster/picture';

/** Dearness of a step: a little for its length, most for leaving strong edges, and some for the lack of a zero crossing. */
const LENGTH = 2;
const GRADIENT = 44;
const CROSSING = 18;
/** The dearest diagonal step; costs walk through this many buckets in a ring. */
const RING = 128;

/**
 * An outline that follows the strongest picture edge between two places. Made once for a picture; `begin` starts from a place,
 * `pathTo` finds the way to another, and what has been worked out for one end serves the next.
 *
 * Source: Mortensen and Barrett, "Intelligent scissors for image composition", SIGGRAPH 1995: the cheapest path by Dijkstra's way
 * with buckets, a step's cost from the gradient's strength and the Laplacian's zero crossings; the gradient's direction, which
 * their text weighs least, is left out.
 */
export class EdgeTrace {
  private readonly cost: Uint8Array;
  private readonly done: Uint8Array;
  private readonly from: Int32Array;
  private readonly reached: Int32Array;
  private buckets: number[][] = [];
  private level = 0;
  private waiting = 0;

  constructor(private readonly picture: Picture8) {
    const n = picture.width * picture.height;
    this.cost = stepCosts(picture);
    this.done = new Uint8Array(n);
    this.from = new Int32Array(n);
    this.reached = new Int32Array(n);
  }

  /** The strongest edge within `reach` px of a place: where a click most likely meant to land. */
  snap(at: Point, reach: number): Point {
    const { width, height } = this.picture;
    let best = Infinity;
    let found = { x: Math.floor(at.x), y: Math.floor(at.y) };
    for (let y = Math.max(0, Math.floor(at.y - reach)); y <= Math.min(height - 1, at.y + reach); y++) {
      for (let x = Math.max(0, Math.floor(at.x - reach)); x <= Math.min(width - 1, at.x + reach); x++) {
        const far = Math.hypot(x + 0.5 - at.x, y + 0.5 - at.y);
        const score = this.cost[y * width + x] + (far / Math.max(1, reach)) * 12;
        if (far <= reach && score < best) {
          best = score;
          found = { x, y };
        }
      }
    }
    return { x: found.x + 0.5, y: found.y + 0.5 };
  }

  /** @throws CoreError `outside` where the place does not lie in the picture */
  begin(at: Point): void {
    const i = this.index(at);
    this.done.fill(0);
    this.reached.fill(0x7fffffff);
    this.from.fill(-1);
    this.buckets = Array.from({ length: RING }, () => []);
    this.level = 0;
    this.waiting = 1;
    this.reached[i] = 0;
    this.buckets[0].push(i);
  }

  /**
   * The cheapest way from where it began, both ends included, as pixel centres.
   * @throws CoreError `outside`
   */
  pathTo(at: Point): Point[] {
    const { width } = this.picture;
    const goal = this.index(at);
    while (!this.done[goal] && this.waiting > 0) this.expandLevel();
    const path: Point[] = [];
    for (let i = goal; i >= 0; i = this.from[i]) path.push({ x: (i % width) + 0.5, y: Math.floor(i / width) + 0.5 });
    return path.reverse();
  }

  private index(at: Point): number {
    const { width, height } = this.picture;
    const x = Math.floor(at.x);
    const y = Math.floor(at.y);
    if (!(x >= 0 && y >= 0 && x < width && y < height))
      throw new CoreError(
        'outside',
        `The place (${at.x}, ${at.y}) lies outside the picture of ${width} × ${height} px.`,
      );
    return y * width + x;
  }

  /** Settles every pixel of the cheapest bucket. */
  private expandLevel(): void {
    const { width, height } = this.picture;
    const bucket = this.buckets[this.level % RING];
    for (let at = 0; at < bucket.length; at++) {
      const i = bucket[at];
      this.waiting--;
      if (this.done[i] || this.reached[i] !== this.level) continue;
      this.done[i] = 1;
      const x = i % width;
      const y = (i - x) / width;
      for (let dy = -1; dy <= 1; dy++) {
        for (let dx = -1; dx <= 1; dx++) {
          if ((dx === 0 && dy === 0) || x + dx < 0 || x + dx >= width || y + dy < 0 || y + dy >= height) continue;
          const j = i + dy * width + dx;
          if (this.done[j]) continue;
          const next = this.level + (dx !== 0 && dy !== 0 ? Math.round(this.cost[j] * Math.SQRT2) : this.cost[j]);
          if (next >= this.reached[j]) continue;
          this.reached[j] = next;
          this.from[j] = i;
          this.buckets[next % RING].push(j);
          this.waiting++;
        }
      }
    }
    this.buckets[this.level % RING] = [];
    this.level++;
  }
}

/**
 * What a straight step onto each pixel costs: LENGTH on the strongest edges of a zero crossing, LENGTH + GRADIENT +
 * CROSSING on even ground.
 */
function stepCosts({ width, height, data }: Picture8): Uint8Array {
  const n = width * height;
  const grey = new Float32Array(n);
  const strength = new Float32Array(n);
  const cost = new Uint8Array(n);
  for (let i = 0; i < n; i++) grey[i] = 0.299 * data[i * 4] + 0.587 * data[i * 4 + 1] + 0.114 * data[i * 4 + 2];
  const laplace = new Float32Array(n);
  let most = 1;
  for (let y = 0, i = 0; y < height; y++) {
    const up = y > 0 ? -width : 0;
    const down = y < height - 1 ? width : 0;
    for (let x = 0; x < width; x++, i++) {
      const l = x > 0 ? -1 : 0;
      const r = x < width - 1 ? 1 : 0;
      // The strongest channel by Sobel's masks: edges between colours of one brightness count too.
      let strongest = 0;
      for (let c = 0; c < 3; c++) {
        const at = (o: number): number => data[(i + o) * 4 + c];
        const gx = at(up + r) + 2 * at(r) + at(down + r) - at(up + l) - 2 * at(l) - at(down + l);
        const gy = at(down + l) + 2 * at(down) + at(down + r) - at(up + l) - 2 * at(up) - at(up + r);
        strongest = Math.max(strongest, Math.hypot(gx, gy) / 4);
      }
      strength[i] = strongest;
      most = Math.max(most, strongest);
      laplace[i] = grey[i + l] + grey[i + r] + grey[i + up] + grey[i + down] - 4 * grey[i];
    }
  }
  // Edges of middling strength must count in a picture that has one very strong edge: the root does that.
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const here = laplace[i];
      const crosses =
        (x < width - 1 && here * laplace[i + 1] < 0) || (y < height - 1 && here * laplace[i + width] < 0) || here === 0;
      cost[i] =
        LENGTH +
        Math.round(GRADIENT * (1 - Math.sqrt(strength[i] / most))) +
        (crosses && strength[i] > 2 ? 0 : CROSSING);
    }
  }
  return cost;
}
