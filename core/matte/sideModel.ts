import type { ColourModel } from './colourModel';
import type { DepthModel } from './depthModel';

/** What depth says counts so much of what colours say: a thing has its own colours more surely than a depth of its own. */
const SHARE = 0.3;

/** What one side of a choice looks like: its colours, and its depths where these are known. */
export class SideModel {
  constructor(
    private readonly colour: ColourModel,
    private readonly depth: DepthModel | undefined,
    /** How far depth is trusted, 0 to 1. */
    private readonly trust: number,
  ) {}

  /** Negative log likelihood of a colour (0 to 255, red at `at`) at a depth (0 to 65535), up to a constant. */
  cost(rgb: ArrayLike<number>, at: number, depth: number): number {
    const cost = this.colour.cost(rgb[at], rgb[at + 1], rgb[at + 2]);
    return this.depth ? cost + SHARE * this.trust * this.depth.cost(depth) : cost;
  }
}
