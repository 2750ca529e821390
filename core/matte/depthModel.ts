/** Depths are counted in so many steps, and spread over so many of them to both sides. */
const STEPS = 128;
const SPREAD = 4;
/** Of what may lie inside or outside so much may lie anywhere: a depth that no stroke has met is not forbidden. */
const ANYWHERE = 0.05;

/** How often depths occur, a step. */
export class DepthCounts {
  readonly counts = new Float64Array(STEPS);

  /** @param depth 0 to 65535 */
  add(depth: number, weight: number): void {
    this.counts[stepOf(depth)] += weight;
  }

  /** These and other ones, so many times. */
  plus(other: DepthCounts, times = 1): DepthCounts {
    const sum = new DepthCounts();
    for (let k = 0; k < STEPS; k++) sum.counts[k] = this.counts[k] + times * other.counts[k];
    return sum;
  }
}

/** How likely a depth belongs to what the model was learnt from: a histogram, spread. */
export class DepthModel {
  private readonly costs = new Float32Array(STEPS);

  constructor({ counts }: DepthCounts) {
    const total = counts.reduce((sum, n) => sum + n, 0);
    const spread = new Float64Array(STEPS);
    for (let a = 0; a < STEPS; a++)
      for (let b = Math.max(0, a - SPREAD); b <= Math.min(STEPS - 1, a + SPREAD); b++)
        spread[b] += (counts[a] * (SPREAD + 1 - Math.abs(a - b))) / (SPREAD + 1) ** 2;
    for (let k = 0; k < STEPS; k++)
      this.costs[k] = -Math.log(ANYWHERE / STEPS + (total > 0 ? ((1 - ANYWHERE) * spread[k]) / total : 0));
  }

  /** Negative log likelihood of a depth, 0 to 65535. */
  cost(depth: number): number {
    return this.costs[stepOf(depth)];
  }
}

const stepOf = (depth: number): number => Math.min(STEPS - 1, Math.floor((depth / 65536) * STEPS));
