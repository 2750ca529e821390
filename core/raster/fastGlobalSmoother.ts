import { kernels, layOut } from '../kernels/kernels';

/** How a plane is smoothed along a picture. */
export interface Smoothing {
  readonly width: number;
  readonly height: number;
  /** How much smoother. */
  readonly lambda: number;
  /** So large a difference of colour (8-bit steps, over three channels) is an edge. */
  readonly sigma: number;
  /** Times across and down. @default 1 */
  readonly passes?: number;
}

/**
 * Smooths a plane in place, but not over the edges of a picture: weighted least squares, solved along rows and
 * columns in turn.
 * Source: Min and others, "Fast global image smoothing based on weighted least squares", IEEE TIP 23(12), 2014.
 * @param guide the picture: RGBA of 8 bits
 */
export function fastGlobalSmoother(
  plane: Float32Array,
  guide: Uint8Array | Uint8ClampedArray,
  { width, height, lambda, sigma, passes = 1 }: Smoothing,
): void {
  const k = kernels();
  // Rows of a multiple of four px, and a multiple of eight of them; a px more, for the last one's neighbour.
  const row = (width + 3) & ~3;
  const rows = (height + 7) & ~7;
  const bytes = row * rows * 4;
  const { at, buffer } = layOut([bytes, bytes + 16, bytes, bytes, Math.max(bytes, row * 64)], k);
  const [values, colours, next, below, held] = at;
  const to = new Float32Array(buffer, values, row * rows);
  const picture = new Uint8Array(buffer, colours, bytes + 16);
  for (let y = 0; y < height; y++) {
    to.set(plane.subarray(y * width, (y + 1) * width), y * row);
    picture.set(guide.subarray(y * width * 4, (y + 1) * width * 4), y * row * 4);
  }
  k.smoothBonds(colours, row, height, sigma, next, below);
  let strength = lambda;
  for (let pass = 0; pass < passes; pass++, strength /= 4) {
    k.smoothRows(values, next, row, width, height, strength, held);
    k.smoothColumns(values, below, row, height, strength, held);
  }
  for (let y = 0; y < height; y++) plane.set(to.subarray(y * row, y * row + width), y * width);
}
