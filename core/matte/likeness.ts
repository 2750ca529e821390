import type { DepthMap, Picture8 } from '../raster/picture';

/** Neighbours whose depths differ by so much of 65535 are likely two things; they are at least so alike beside their colours. */
const APART = 400;
const LEAST = 0.25;

/**
 * How alike the pixels of a picture are, measured by how much its neighbours differ on the whole.
 *
 * Source: the contrast term of Rother, Kolmogorov and Blake, "GrabCut", SIGGRAPH 2004.
 */
export class Likeness {
  private readonly beta: number;

  /** @param depth of the picture @default it has no say */
  constructor(
    private readonly picture: Picture8,
    private readonly depth?: DepthMap,
  ) {
    const { width, height } = picture;
    let sum = 0;
    let pairs = 0;
    for (let y = 0; y < height - 1; y += 2)
      for (let x = 0; x < width - 1; x += 2) {
        const i = y * width + x;
        sum += this.squared(i, i + 1) + this.squared(i, i + width);
        pairs += 2;
      }
    this.beta = sum > 0 ? pairs / (2 * sum) : 0;
  }

  /** Of two pixels by their numbers: 1 where they are equal, towards 0 the more they differ. */
  between(a: number, b: number): number {
    const colours = Math.exp(-this.beta * this.squared(a, b));
    if (!this.depth) return colours;
    const apart = (this.depth.data[a] - this.depth.data[b]) / APART;
    // A soft or rough map shows its edges where there are none, too: they are a hint, no more.
    return colours * (LEAST + (1 - LEAST) * Math.exp(-apart * apart));
  }

  private squared(a: number, b: number): number {
    const { data } = this.picture;
    return (
      (data[a * 4] - data[b * 4]) ** 2 +
      (data[a * 4 + 1] - data[b * 4 + 1]) ** 2 +
      (data[a * 4 + 2] - data[b * 4 + 2]) ** 2
    );
  }
}
