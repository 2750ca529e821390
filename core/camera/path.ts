import type { Vector } from './pose';

const plus = (a: Vector, b: Vector, share: number): Vector => a.map((v, i) => v + b[i] * share) as unknown as Vector;
const mix = (a: Vector, b: Vector, share: number): Vector =>
  a.map((v, i) => v + (b[i] - v) * share) as unknown as Vector;
const distance = (a: Vector, b: Vector): number => Math.hypot(...a.map((v, i) => v - b[i]));

/** Steps in which a piece of path is measured. */
const STEPS = 256;

/**
 * A path through places: between each two a centripetal Catmull-Rom curve, which never loops or overshoots. Where
 * there is no place before or after, the path begins and ends as if it went straight on.
 * Source: Yuksel, Schaefer, Keyser, "Parameterization and applications of Catmull-Rom curves", Computer-Aided Design 43, 2011.
 */
export class SmoothPath {
  private readonly lengths: (Float64Array | undefined)[] = [];

  /** @param straight the way goes straight from place to place */
  constructor(
    private readonly places: readonly Vector[],
    private readonly straight = false,
  ) {}

  /** A place between place `index` and the next, by the length of the way: equal shares are equally long. */
  at(index: number, share: number): Vector {
    const [a, b] = [this.places[index], this.places[index + 1]];
    if (distance(a, b) === 0) return a;
    if (this.straight) return mix(a, b, share);
    // An ease may swing beyond its ends.
    if (share <= 0 || share >= 1) return this.curve(index, share);
    const table = (this.lengths[index] ??= this.measure(index));
    const wanted = share * table[STEPS];
    let low = 0;
    let high = STEPS;
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (table[middle] <= wanted) low = middle;
      else high = middle;
    }
    const part = (wanted - table[low]) / (table[high] - table[low] || 1);
    return this.curve(index, (low + part) / STEPS);
  }

  /** Length of the way from place `index` to the next. */
  length(index: number): number {
    if (this.straight) return distance(this.places[index], this.places[index + 1]);
    return (this.lengths[index] ??= this.measure(index))[STEPS];
  }

  private measure(index: number): Float64Array {
    const table = new Float64Array(STEPS + 1);
    let before = this.curve(index, 0);
    for (let n = 1; n <= STEPS; n++) {
      const here = this.curve(index, n / STEPS);
      table[n] = table[n - 1] + distance(before, here);
      before = here;
    }
    return table;
  }

  /** Barry and Goldman's pyramid with knots by the root of the distance. */
  private curve(index: number, share: number): Vector {
    const { places } = this;
    const b = places[index];
    const c = places[index + 1];
    if (distance(b, c) === 0) return b;
    const a = others(places, index, -1) ?? plus(b, plus(c, b, -1), -1);
    const d = others(places, index + 1, 1) ?? plus(c, plus(b, c, -1), -1);
    const t0 = 0;
    const t1 = t0 + Math.sqrt(distance(a, b));
    const t2 = t1 + Math.sqrt(distance(b, c));
    const t3 = t2 + Math.sqrt(distance(c, d));
    const t = t1 + (t2 - t1) * share;
    const at = (p: Vector, q: Vector, from: number, to: number): Vector => mix(p, q, (t - from) / (to - from));
    const ab = at(a, b, t0, t1);
    const bc = at(b, c, t1, t2);
    const cd = at(c, d, t2, t3);
    return at(at(ab, bc, t0, t2), at(bc, cd, t1, t3), t1, t2);
  }
}

/** The next place that way which is another one; undefined where there is none. */
function others(places: readonly Vector[], index: number, step: 1 | -1): Vector | undefined {
  for (let n = index + step; n >= 0 && n < places.length; n += step)
    if (distance(places[n], places[index]) > 0) return places[n];
  return undefined;
}
