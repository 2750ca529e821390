import type { Size } from '../../kind';
import { Fourier, powerOfTwo } from './fourier';
import type { Ground } from './ground';

/** From where a place of the hole may be taken: so many px beside it. */
export interface Offset {
  readonly dx: number;
  readonly dy: number;
  /** How badly what lies there fits what is known here, over what a place there varies by. */
  readonly rank: number;
  /** Where it was found: the middle of its window. */
  readonly x: number;
  readonly y: number;
}

/** A window reaches so far, its weights are a Gaussian of so many px; windows stand along the border so far apart. */
const REACH = 16;
const SIGMA = 8;
const EVERY = 5;
/** Of a window's weight so much must be known there, and of the hole in it so much. */
const OVERLAP = 0.4;
const COVERED = 0.6;
/** So much of the mean difference is forgiven. */
const FORGIVEN = 0.8;
/** So many of each window are kept, two px apart; nearer ones than the next would take a place from itself. */
const A_WINDOW = 6;
const APART = 2;
const NEAREST = 4;
/** So many windows tell enough, however long the border is. */
export const MOST_WINDOWS = 120;
/** Added to a window's variance: flat ground fits everywhere. */
const FLAT = 20;

/** Unknown places that touch known ones, thinned so that they stand apart. */
export function borderPlaces({ width, height, known, hole }: Ground, apart: number): number[] {
  const kept: number[] = [];
  const taken = new Uint8Array(known.length);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (!hole[i] || taken[i]) continue;
      const touches =
        (x > 0 && known[i - 1]) ||
        (x < width - 1 && known[i + 1]) ||
        (y > 0 && known[i - width]) ||
        (y < height - 1 && known[i + width]);
      if (!touches) continue;
      kept.push(i);
      for (let v = Math.max(0, y - apart + 1); v < Math.min(height, y + apart); v++)
        for (let u = Math.max(0, x - apart + 1); u < Math.min(width, x + apart); u++) taken[v * width + u] = 1;
    }
  return kept;
}

/**
 * Offsets by which the surroundings of a hole repeat themselves, the best first: for windows along its border, the places that
 * fit best.
 * Sources: He and Sun, "Statistics of patch offsets for image completion", ECCV 2012; Padfield, "Masked object registration in the
 * Fourier domain", IEEE TIP 21(5), 2012 (both sides masked).
 */
export function findOffsets(
  ground: Ground,
  most = MOST_WINDOWS,
  onProgress: (share: number) => void = () => undefined,
): Offset[] {
  const search = new WindowSearch(ground);
  const all = borderPlaces(ground, EVERY);
  const each = Math.max(1, all.length / most);
  const places = all.filter((_, n) => Math.floor(n / each) !== Math.floor((n - 1) / each));
  const found = places.flatMap((place, n) => {
    onProgress(n / places.length);
    return search.bestOf(place);
  });
  found.sort((a, b) => a.rank - b.rank);
  const kept: Offset[] = [];
  for (const offset of found)
    if (kept.every((o) => Math.hypot(o.dx - offset.dx, o.dy - offset.dy) >= 1)) kept.push(offset);
  return kept;
}

/** A side of the planes that are searched: a window lands within the ground or beyond its edge by its own reach. */
const padded = (side: number): number => powerOfTwo(side + 2 * REACH);

/** Px of the planes in which a ground of a size is searched. */
export const paddedArea = ({ width, height }: Size): number => padded(width) * padded(height);

/** Planes of the search, in the order in which the kernel wants them. */
const [SOURCES, SQUARES, A, B, C, D] = [0, 1, 2, 3, 4, 5];
/** Greys are counted from the middle: less is lost in what cancels out. */
const MIDDLE = 128;

/** What a window of the border finds everywhere in a ground at once, by four transforms. */
class WindowSearch {
  private readonly fourier: Fourier;
  private readonly grey: Float32Array;

  constructor(private readonly ground: Ground) {
    const { width, height, colours, known, from } = ground;
    // Nothing wraps round into the ground.
    this.fourier = new Fourier(padded(width), padded(height), 6);
    const { width: w } = this.fourier;
    this.grey = new Float32Array(known.length);
    for (let i = 0; i < known.length; i++)
      this.grey[i] = 0.299 * colours[i * 3] + 0.587 * colours[i * 3 + 1] + 0.114 * colours[i * 3 + 2] - MIDDLE;
    const [mask, greys] = this.parts(SOURCES);
    const [squares, nothing] = this.parts(SQUARES);
    for (const part of [mask, greys, squares, nothing]) part.fill(0);
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        if (!from[i]) continue;
        const at = y * w + x;
        mask[at] = 1;
        greys[at] = this.grey[i];
        squares[at] = this.grey[i] ** 2;
      }
    for (const n of [SOURCES, SQUARES]) this.fourier.transform(this.fourier.plane(n));
  }

  private parts(n: number): [re: Float32Array, im: Float32Array] {
    const { re, im } = this.fourier.plane(n);
    return [this.fourier.values(re), this.fourier.values(im)];
  }

  /** The offsets that fit best around a place. */
  bestOf(place: number): Offset[] {
    const { fourier, ground } = this;
    const { width, height } = ground;
    const px = place % width;
    const py = Math.floor(place / width);
    const window = this.lay(px, py);
    if (window.weight < 1) return [];
    const columns = { first: Math.max(0, px - REACH), end: px + REACH + 1 };
    fourier.transform(fourier.plane(A), columns);
    fourier.transform(fourier.plane(B), columns);
    fourier.kernels.correlateSpectra(fourier.begin, fourier.width, fourier.height);
    fourier.invert(fourier.plane(C));
    fourier.invert(fourier.plane(D));
    const { width: W, height: H } = fourier;
    const [overlaps, misfits] = this.parts(C);
    const [means, covers] = this.parts(D);
    const count = W * H;
    const { weight, open, variance } = window;
    const best: Offset[] = [];
    let worst = Infinity;
    for (let oy = -py - REACH; oy < height - py + REACH; oy++)
      for (let ox = -px - REACH; ox < width - px + REACH; ox++) {
        const at = ((oy + H) % H) * W + ((ox + W) % W);
        const overlap = overlaps[at] / count;
        if (overlap < OVERLAP * weight || covers[at] / count < COVERED * open) continue;
        const mean = means[at] / count / overlap;
        const misfit = Math.max(0, misfits[at] / count / overlap - (1 - (1 - FORGIVEN) ** 2) * mean * mean);
        const rank = misfit / (variance + FLAT);
        if (rank >= worst || Math.max(Math.abs(ox), Math.abs(oy)) < NEAREST) continue;
        worst = take(best, { dx: ox, dy: oy, rank, x: px, y: py });
      }
    return best;
  }

  /** Lays the window around a place into its planes. */
  private lay(px: number, py: number): { readonly weight: number; readonly open: number; readonly variance: number } {
    const { ground, grey, fourier } = this;
    const { width, height, known, hole } = ground;
    const [weights, weighted] = this.parts(A);
    const [squared, holes] = this.parts(B);
    for (const part of [weights, weighted, squared, holes]) part.fill(0);
    let [weight, sum, squares, open] = [0, 0, 0, 0];
    for (let y = Math.max(0, py - REACH); y <= Math.min(height - 1, py + REACH); y++)
      for (let x = Math.max(0, px - REACH); x <= Math.min(width - 1, px + REACH); x++) {
        const i = y * width + x;
        const g = Math.exp(-((x - px) ** 2 + (y - py) ** 2) / (2 * SIGMA * SIGMA));
        const at = y * fourier.width + x;
        if (!known[i]) {
          if (!hole[i]) continue;
          holes[at] = g;
          open += g;
          continue;
        }
        weights[at] = g;
        weighted[at] = g * grey[i];
        squared[at] = g * grey[i] ** 2;
        weight += g;
        sum += g * grey[i];
        squares += g * grey[i] ** 2;
      }
    return { weight, open, variance: squares / weight - (sum / weight) ** 2 };
  }
}

/** Keeps an offset among the best, none near to a better one. Returns how bad the next may be. */
function take(best: Offset[], offset: Offset): number {
  const near = (o: Offset): boolean => Math.hypot(o.dx - offset.dx, o.dy - offset.dy) <= APART;
  if (!best.some((o) => near(o) && o.rank <= offset.rank)) {
    const others = best.filter((o) => !near(o));
    best.splice(0, best.length, ...others, offset);
    best.sort((p, q) => p.rank - q.rank);
    if (best.length > A_WINDOW) best.pop();
  }
  return best.length < A_WINDOW ? Infinity : best[best.length - 1].rank;
}
