import { boxMean } from '../raster/box';
import { boundsOf } from '../raster/bounds';
import { cropPicture, cropPlane } from '../raster/crop';
import { requireSameSize, type Mask, type Picture8 } from '../raster/picture';

export interface GuidedMatteOptions {
  /** Half of the window's side, px. @default 12 */
  readonly radius?: number;
  /** How much a window of one colour may differ before it counts as an edge; colours from 0 to 1. @default 1e-4 */
  readonly epsilon?: number;
}

/** What an unsure pixel weighs against a sure one. */
const UNKNOWN = 0.002;

/**
 * A quick soft matte: the trimap (unsure = half) seen through a guided filter with the colours as the guide. Good enough to look
 * at while painting; the closed-form matte is the one that is cut. Sure pixels keep their side.
 *
 * Source: He, Sun and Tang, "Guided image filtering", PAMI 35(6), 2013, with three channels as the guide and windows
 * that learn from
 * their sure pixels.
 * @throws CoreError `size-differs`
 */
export function guidedMatte(picture: Picture8, trimap: Mask, options: GuidedMatteOptions = {}): Mask {
  requireSameSize('The trimap', trimap, 'the picture', picture);
  const r = options.radius ?? 12;
  const out = trimap.data.slice();
  // Only what the unsure pixels can see is worked on.
  const box = boundsOf(trimap.width, trimap.height, (i) => trimap.data[i] !== 0 && trimap.data[i] !== 255, 2 * r + 1);
  if (!box) return { ...trimap, data: out };
  const w = box.right - box.left;
  const h = box.bottom - box.top;
  const done = filtered(cropPicture(picture, box), cropPlane(trimap, box), r, options.epsilon ?? 1e-4);
  for (let y = 0; y < h; y++) out.set(done.subarray(y * w, (y + 1) * w), (box.top + y) * trimap.width + box.left);
  return { ...trimap, data: out };
}

function filtered(picture: Picture8, trimap: Mask, r: number, epsilon: number): Uint8Array {
  const { width, height } = trimap;
  const n = width * height;
  const plane = (f: (i: number) => number): Float32Array => {
    const out = new Float32Array(n);
    for (let i = 0; i < n; i++) out[i] = f(i);
    return out;
  };
  const box = (p: Float32Array): Float32Array => boxMean(p, width, height, r);
  // The unsure pixels' half says nothing: a window learns from its sure pixels, and from the others only where it has
  // no sure ones.
  const weight = plane((i) => (trimap.data[i] === 0 || trimap.data[i] === 255 ? 1 : UNKNOWN));
  const weights = box(weight);
  const mean = (p: Float32Array): Float32Array => {
    for (let i = 0; i < n; i++) p[i] *= weight[i];
    const out = box(p);
    for (let i = 0; i < n; i++) out[i] /= weights[i];
    return out;
  };
  const d = picture.data;
  const guide = [0, 1, 2].map((c) => plane((i) => d[i * 4 + c] / 255));
  const sure = new Float32Array(256).fill(0.5);
  sure[0] = 0;
  sure[255] = 1;
  const p = plane((i) => sure[trimap.data[i]]);
  const means = guide.map((g) => mean(g.slice()));
  const meanP = mean(p.slice());
  const pairs = [
    [0, 0],
    [0, 1],
    [0, 2],
    [1, 1],
    [1, 2],
    [2, 2],
  ].map(([a, b]) => mean(plane((i) => guide[a][i] * guide[b][i])));
  const cross = guide.map((g) => mean(plane((i) => g[i] * p[i])));
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
  const base = box(offset);
  const out = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    const t = trimap.data[i];
    out[i] =
      t === 0 || t === 255
        ? t
        : Math.round(
            255 *
              Math.min(
                1,
                Math.max(
                  0,
                  smooth[0][i] * guide[0][i] + smooth[1][i] * guide[1][i] + smooth[2][i] * guide[2][i] + base[i],
                ),
              ),
          );
  }
  return out;
}
