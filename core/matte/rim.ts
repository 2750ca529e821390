import { boxMean } from '../raster/box';
import { requireSameSize, type Mask, type Picture8 } from '../raster/picture';

/** Surroundings from which a plate's and the ground's own colours are taken, px to each side. */
const AROUND = 8;
/** Colours less apart than this (0 to 441, Euclidean in RGB) cannot be told apart: no rim is seen there. */
const APART = 36;
/** A rim pixel lies in this part of the way from the plate's own colour to the ground's. */
const SHARE = 0.6;

/**
 * Where a matte's edge still shows the old background: covered pixels near the edge (from a third of coverage up)
 * whose colour lies
 * nearer to that of the ground outside than to that of the plate inside. 255 there.
 *
 * Source: own measure; the two colours are local means over what is surely out and what is surely in and not at the edge.
 * @param cleaned the plate's colours as they will be seen: with its edge colours cleaned where they are
 * @param ground the picture that it was cut from
 * @throws CoreError `size-differs`
 */
export function findRim(
  cleaned: Picture8,
  ground: Picture8,
  matte: Mask,
): { readonly mask: Mask; readonly count: number; readonly edge: number } {
  requireSameSize('The plate', cleaned, 'its matte', matte);
  requireSameSize('The picture', ground, 'the matte', matte);
  const { width, height } = matte;
  const n = width * height;
  const cover = matte.data;
  const mask = new Uint8Array(n);
  // A rim is at most as wide as the hole is pushed out by default; what is within 2 px of anything not covered counts as edge.
  const covered = new Float32Array(n);
  const out = new Float32Array(n);
  for (let i = 0; i < n; i++) {
    covered[i] = cover[i] === 255 ? 1 : 0;
    out[i] = cover[i] === 0 ? 1 : 0;
  }
  const nearEdge = boxMean(covered, width, height, 2);
  const core = new Float32Array(n);
  for (let i = 0; i < n; i++) core[i] = nearEdge[i] > 0.999 ? 1 : 0;
  const weightIn = boxMean(core, width, height, AROUND);
  const weightOut = boxMean(out, width, height, AROUND);
  const local = (from: Picture8, weight: Float32Array, c: number): Float32Array => {
    const plane = new Float32Array(n);
    for (let i = 0; i < n; i++) plane[i] = weight[i] * from.data[i * 4 + c];
    return boxMean(plane, width, height, AROUND);
  };
  const inside = [0, 1, 2].map((c) => local(cleaned, core, c));
  const outside = [0, 1, 2].map((c) => local(ground, out, c));
  let count = 0;
  let edge = 0;
  for (let i = 0; i < n; i++) {
    if (cover[i] < 85 || nearEdge[i] > 0.999 || weightIn[i] < 1e-4 || weightOut[i] < 1e-4) continue;
    edge++;
    let along = 0;
    let length2 = 0;
    for (let c = 0; c < 3; c++) {
      const f = inside[c][i] / weightIn[i];
      const b = outside[c][i] / weightOut[i];
      along += (cleaned.data[i * 4 + c] - f) * (b - f);
      length2 += (b - f) ** 2;
    }
    if (length2 < APART * APART || along / length2 < SHARE || along / length2 > 1.4) continue;
    mask[i] = 255;
    count++;
  }
  return { mask: { width, height, data: mask }, count, edge };
}
