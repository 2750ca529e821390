import { blurPlane, blurWidely } from '../../raster/blurPlane';
import { halvePicture } from '../../raster/halve';
import { labOf } from '../../raster/lab';
import type { Picture8 } from '../../raster/picture';
import { superpixels, type Tiling } from './superpixels';

/** What a node is known by: place (2), colour (3), the colour around it (3), texture. */
export const FEATURES = 9;
/** Larger pictures are divided at half their size, or a quarter of it ... */
const MOST_PIXELS = 1.7e6;
/** So many patches would stand on the side of a square picture. */
const ACROSS = 60;
/** The colour around a node: over so many sides of a patch. */
const CONTEXT = 1.5;
/** What is finer than this is texture, px. */
const FINE = 1.5;
/** The units of L, a and b. */
export const LAB_UNITS = [100, 66, 66] as const;
/**
 * Two ways to divide, which differ as two artists would: one by lightness and colour alike, one by lightness above
 * all. What both
 * say in the mean is nearer to the truth than either.
 */
export const WAYS_TO_DIVIDE = 2;
const TILINGS: readonly Tiling[] = [
  { ruler: 15, lightness: 1, iterations: 6 },
  { ruler: 15, lightness: 2.55, iterations: 6 },
];

/** A picture as a few thousand patches of like colour. */
export interface Nodes {
  readonly count: number;
  /** The patch of every pixel of the picture as it was divided. */
  readonly labels: Int32Array;
  /** `FEATURES` values a patch: x and y over the longer side; L / 100, a / 66, b / 66; the same around it; texture. */
  readonly features: Float32Array;
}

/** A picture made ready for marks. */
export interface MarkGround {
  /** Of the picture, px. */
  readonly width: number;
  readonly height: number;
  /** So often was it halved to be divided. */
  readonly halvings: number;
  /** Of the picture as it was divided. */
  readonly rowLength: number;
  /** CIELAB of every pixel, interleaved, where the picture was divided at its own size. */
  readonly lab: Float32Array | undefined;
  /** Mean chroma, over 66: 0 where it is grey. */
  readonly chroma: number;
  /** The same picture divided in one way or the other, when first asked for. */
  nodes(way: number): Nodes;
}

/** Makes a picture ready for marks. It takes a moment, once a picture. */
export function markGround(picture: Picture8): MarkGround {
  let small = picture;
  let halvings = 0;
  while (small.width * small.height > MOST_PIXELS) {
    small = halvePicture(small);
    halvings++;
  }
  const { width, height } = small;
  const lab = labOf(small);
  const planes = [0, 1, 2].map((c) => {
    const plane = new Float32Array(width * height);
    for (let i = 0; i < plane.length; i++) plane[i] = lab[i * 3 + c];
    return blurPlane(plane, width, height, 1);
  });
  const cell = Math.max(3, Math.sqrt(width * height) / ACROSS);
  const fine = blurPlane(planes[0], width, height, FINE);
  const seen: Seen = {
    width,
    height,
    planes: [...planes, ...planes.map((plane) => blurWidely(plane, width, height, CONTEXT * cell))],
    texture: fine.map((v, i) => Math.abs(planes[0][i] - v)),
  };
  const divided: Nodes[] = [];
  const divide = (tiling: Tiling): Nodes => {
    const { labels, count } = superpixels(planes, { width, height, cell, ...tiling });
    return { labels, count, features: featuresOf(labels, count, seen) };
  };
  return {
    width: picture.width,
    height: picture.height,
    halvings,
    rowLength: width,
    lab: halvings === 0 ? lab : undefined,
    chroma: chromaOf(planes[1], planes[2]),
    nodes: (way) => (divided[way] ??= divide(TILINGS[way])),
  };
}

function chromaOf(a: Float32Array, b: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += Math.sqrt(a[i] * a[i] + b[i] * b[i]);
  return sum / a.length / LAB_UNITS[1];
}

interface Seen {
  readonly width: number;
  readonly height: number;
  /** L, a and b; the same around every pixel. */
  readonly planes: readonly Float32Array[];
  readonly texture: Float32Array;
}

/** The means of what is seen in each patch. */
function featuresOf(labels: Int32Array, count: number, { width, height, planes, texture }: Seen): Float32Array {
  const longer = Math.max(width, height);
  const many = new Float32Array(count);
  const sums = new Float64Array(count * FEATURES);
  for (let i = 0, x = 0, y = 0; i < labels.length; i++) {
    const k = labels[i] * FEATURES;
    many[labels[i]]++;
    sums[k] += x + 0.5;
    sums[k + 1] += y + 0.5;
    for (let c = 0; c < 6; c++) sums[k + 2 + c] += planes[c][i];
    sums[k + 8] += texture[i];
    if (++x === width) {
      x = 0;
      y++;
    }
  }
  const units = [longer, longer, ...LAB_UNITS, ...LAB_UNITS, 1];
  return Float32Array.from(sums, (sum, k) => {
    const mean = sum / Math.max(1, many[Math.floor(k / FEATURES)]) / units[k % FEATURES];
    return k % FEATURES === 8 ? Math.log(0.3 + mean) / 3 : mean;
  });
}
