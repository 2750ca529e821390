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
const MOST_WINDOWS = 90;
/** Added to a window's variance: flat ground fits everywhere. */
const FLAT = 20;

/** Unknown places that touch known ones, thinned so that they stand apart. */
export function borderPlaces({ width, height, known }: Ground, apart: number): number[] {
  const kept: number[] = [];
  const taken = new Uint8Array(known.length);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (known[i] || taken[i]) continue;
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
export function findOffsets(ground: Ground, onProgress: (share: number) => void = () => undefined): Offset[] {
  const search = new WindowSearch(ground);
  const all = borderPlaces(ground, EVERY);
  const each = Math.max(1, all.length / MOST_WINDOWS);
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

/** What a window of the border finds everywhere in a ground at once, by four transforms. */
class WindowSearch {
  private readonly fourier: Fourier;
  private readonly grey: Float64Array;
  /** Transforms of the sources' mask and of mask times grey together, and of mask times grey squared. */
  private readonly sources: Float64Array;
  private readonly squares: Float64Array;
  private readonly a: Float64Array;
  private readonly b: Float64Array;
  private readonly c: Float64Array;
  private readonly d: Float64Array;

  constructor(private readonly ground: Ground) {
    const { width, height, colours, known, from } = ground;
    // A window lands within the ground or beyond its edge by its own reach: nothing wraps round into it.
    this.fourier = new Fourier(powerOfTwo(width + 2 * REACH), powerOfTwo(height + 2 * REACH));
    const { width: w } = this.fourier;
    this.grey = new Float64Array(known.length);
    for (let i = 0; i < known.length; i++)
      this.grey[i] = 0.299 * colours[i * 3] + 0.587 * colours[i * 3 + 1] + 0.114 * colours[i * 3 + 2];
    this.sources = this.fourier.plane();
    this.squares = this.fourier.plane();
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        if (!from[i]) continue;
        const at = 2 * (y * w + x);
        this.sources[at] = 1;
        this.sources[at + 1] = this.grey[i];
        this.squares[at] = this.grey[i] ** 2;
      }
    this.fourier.transform(this.sources);
    this.fourier.transform(this.squares);
    this.a = this.fourier.plane();
    this.b = this.fourier.plane();
    this.c = this.fourier.plane();
    this.d = this.fourier.plane();
  }

  /** The offsets that fit best around a place. */
  bestOf(place: number): Offset[] {
    const { ground, fourier, grey, a, b, c, d } = this;
    const { width, height, known } = ground;
    const { width: W, height: H } = fourier;
    const px = place % width;
    const py = Math.floor(place / width);
    a.fill(0);
    b.fill(0);
    let weight = 0;
    let sum = 0;
    let squares = 0;
    let open = 0;
    for (let y = Math.max(0, py - REACH); y <= Math.min(height - 1, py + REACH); y++)
      for (let x = Math.max(0, px - REACH); x <= Math.min(width - 1, px + REACH); x++) {
        const i = y * width + x;
        const g = Math.exp(-((x - px) ** 2 + (y - py) ** 2) / (2 * SIGMA * SIGMA));
        const at = 2 * (y * W + x);
        if (!known[i]) {
          b[at + 1] = g;
          open += g;
          continue;
        }
        a[at] = g;
        a[at + 1] = g * grey[i];
        b[at] = g * grey[i] ** 2;
        weight += g;
        sum += g * grey[i];
        squares += g * grey[i] ** 2;
      }
    if (weight < 1) return [];
    fourier.transform(a);
    fourier.transform(b);
    this.correlate();
    fourier.transform(c, true);
    fourier.transform(d, true);
    const variance = squares / weight - (sum / weight) ** 2;
    const best: Offset[] = [];
    let worst = Infinity;
    for (let oy = -py - REACH; oy < height - py + REACH; oy++)
      for (let ox = -px - REACH; ox < width - px + REACH; ox++) {
        const at = 2 * (((oy + H) % H) * W + ((ox + W) % W));
        const overlap = c[at];
        if (overlap < OVERLAP * weight || d[at + 1] < COVERED * open) continue;
        const mean = d[at] / overlap;
        const misfit = Math.max(0, c[at + 1] / overlap - (1 - (1 - FORGIVEN) ** 2) * mean * mean);
        const rank = misfit / (variance + FLAT);
        if (rank >= worst || Math.max(Math.abs(ox), Math.abs(oy)) < NEAREST) continue;
        worst = take(best, { dx: ox, dy: oy, rank, x: px, y: py });
      }
    return best;
  }

  /**
   * The spectra of what is correlated over all offsets: overlap and squared difference in one plane, difference of means and what
   * is covered of the hole in another. Each window plane holds two real ones, told apart by their symmetry.
   */
  private correlate(): void {
    const { fourier, sources, squares, a, b, c, d } = this;
    const { width: W, height: H } = fourier;
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) {
        const k = 2 * (y * W + x);
        const j = 2 * (((H - y) % H) * W + ((W - x) % W));
        const mr = (sources[k] + sources[j]) / 2;
        const mi = (sources[k + 1] - sources[j + 1]) / 2;
        const gr = (sources[k + 1] + sources[j + 1]) / 2;
        const gi = (sources[j] - sources[k]) / 2;
        const qr = squares[k];
        const qi = squares[k + 1];
        // Window: weight, weight times grey; weight times grey squared, hole. Conjugated: it is a correlation.
        const wr = (a[k] + a[j]) / 2;
        const wi = -(a[k + 1] - a[j + 1]) / 2;
        const vr = (a[k + 1] + a[j + 1]) / 2;
        const vi = -(a[j] - a[k]) / 2;
        const sr = (b[k] + b[j]) / 2;
        const si = -(b[k + 1] - b[j + 1]) / 2;
        const hr = (b[k + 1] + b[j + 1]) / 2;
        const hi = -(b[j] - b[k]) / 2;
        const overlapR = wr * mr - wi * mi;
        const overlapI = wr * mi + wi * mr;
        const crossR = vr * gr - vi * gi;
        const crossI = vr * gi + vi * gr;
        const squareR = sr * mr - si * mi - 2 * crossR + wr * qr - wi * qi;
        const squareI = sr * mi + si * mr - 2 * crossI + wr * qi + wi * qr;
        c[k] = overlapR - squareI;
        c[k + 1] = overlapI + squareR;
        const meanR = vr * mr - vi * mi - (wr * gr - wi * gi);
        const meanI = vr * mi + vi * mr - (wr * gi + wi * gr);
        const coverR = hr * mr - hi * mi;
        const coverI = hr * mi + hi * mr;
        d[k] = meanR - coverI;
        d[k + 1] = meanI + coverR;
      }
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
