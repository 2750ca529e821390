import { boxMean } from './box';
import type { Picture8 } from './picture';

/** How a plane is filtered. */
export interface GuidedFilter {
  /** Half of the window's side, px. */
  readonly radius: number;
  /** How much a window of one colour may differ before it counts as an edge; colours from 0 to 1. */
  readonly epsilon: number;
  /** How much a window learns from each pixel, above 0. @default all alike */
  readonly weight?: Float32Array;
}

/**
 * A plane seen through a guided filter: in each window it is a linear function of the picture's three channels, so
 * that its edges are the
 * picture's.
 *
 * Source: He, Sun and Tang, "Guided image filtering", PAMI 35(6), 2013, with three channels as the guide.
 */
export function guidedFilter(
  plane: Float32Array,
  { width, height, data }: Pick<Picture8, 'width' | 'height' | 'data'>,
  { radius, epsilon, weight }: GuidedFilter,
): Float32Array {
  const n = width * height;
  const box = (p: Float32Array): Float32Array => boxMean(p, width, height, radius);
  const weights = weight && box(weight);
  /** The weighted mean over a window; takes the plane as room. */
  const mean = (p: Float32Array): Float32Array => {
    if (!weight || !weights) return box(p);
    for (let i = 0; i < n; i++) p[i] *= weight[i];
    const out = box(p);
    for (let i = 0; i < n; i++) out[i] /= weights[i];
    return out;
  };
  const product = (a: Float32Array, b: Float32Array): Float32Array => {
    const out = new Float32Array(n);
    for (let i = 0; i < n; i++) out[i] = a[i] * b[i];
    return out;
  };
  const guide = [0, 1, 2].map((c) => {
    const out = new Float32Array(n);
    for (let i = 0; i < n; i++) out[i] = data[i * 4 + c] / 255;
    return out;
  });
  const means = guide.map((g) => mean(g.slice()));
  const meanP = mean(plane.slice());
  const pairs = [
    [0, 0],
    [0, 1],
    [0, 2],
    [1, 1],
    [1, 2],
    [2, 2],
  ].map(([a, b]) => mean(product(guide[a], guide[b])));
  const cross = guide.map((g) => mean(product(g, plane)));
  const slope = [new Float32Array(n), new Float32Array(n), new Float32Array(n)];
  const offset = new Float32Array(n);
  for (let i = 0; i < n; i++) {
    const [mr, mg, mb] = [means[0][i], means[1][i], means[2][i]];
    const rr = pairs[0][i] - mr * mr + epsilon;
    const rg = pairs[1][i] - mr * mg;
    const rb = pairs[2][i] - mr * mb;
    const gg = pairs[3][i] - mg * mg + epsilon;
    const gb = pairs[4][i] - mg * mb;
    const bb = pairs[5][i] - mb * mb + epsilon;
    const cr = cross[0][i] - mr * meanP[i];
    const cg = cross[1][i] - mg * meanP[i];
    const cb = cross[2][i] - mb * meanP[i];
    const a = gg * bb - gb * gb;
    const b = gb * rb - rg * bb;
    const c = rg * gb - gg * rb;
    const det = rr * a + rg * b + rb * c;
    const e = rr * bb - rb * rb;
    const f = rb * rg - rr * gb;
    const g = rr * gg - rg * rg;
    const s0 = (a * cr + b * cg + c * cb) / det;
    const s1 = (b * cr + e * cg + f * cb) / det;
    const s2 = (c * cr + f * cg + g * cb) / det;
    slope[0][i] = s0;
    slope[1][i] = s1;
    slope[2][i] = s2;
    offset[i] = meanP[i] - s0 * mr - s1 * mg - s2 * mb;
  }
  const smooth = slope.map(box);
  const out = box(offset);
  for (let i = 0; i < n; i++)
    out[i] += smooth[0][i] * guide[0][i] + smooth[1][i] * guide[1][i] + smooth[2][i] * guide[2][i];
  return out;
}
