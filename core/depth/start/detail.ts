import { blurPlane } from '../../raster/blurPlane';
import { greyPlane } from '../../raster/greyPlane';
import { byRegion, ranked, type StartLook } from './startLook';

/** What is finer is detail, px. */
const FINE = 1.5;
/** Edges are looked at so finely and so coarsely, px; the strongest share of coarse ones counts. */
const SHARP = 0.7;
const COARSE = 2;
const STRONGEST = 0.1;
/** An edge whose slope grows by less when it is looked at more finely is blurred. */
const BLURRED = 1.25;
/** Share of blurred edges from which detail says something, and over which it says all. */
const FROM = 0.45;
const OVER = 0.15;

export interface Detail {
  /** How much there is, by region, 0 to 1. */
  readonly plane: Float32Array;
  /** How far it speaks of depth, 0 to 1: only where the picture has sharp and blurred parts. */
  readonly gate: number;
}

/**
 * Where the picture is sharp. Source of the idea: Zhuo and Sim, "Defocus map estimation from a single image", Pattern
 * Recognition 44, 2011.
 */
export function detail({ width, height, picture, regions }: StartLook): Detail {
  const grey = greyPlane(picture);
  const smooth = blurPlane(grey, width, height, FINE);
  const much = grey.map((v, i) => Math.abs(v - smooth[i]));
  const plane = byRegion(ranked(blurPlane(much, width, height, Math.max(0.5, height / 25))), regions);
  return { plane, gate: Math.min(1, Math.max(0, (blurredShare(grey, width, height) - FROM) / OVER)) };
}

/** Share of the strong edges that are blurred. */
function blurredShare(grey: Float32Array, width: number, height: number): number {
  const fine = slopes(blurPlane(grey, width, height, SHARP), width, height);
  const coarse = slopes(blurPlane(grey, width, height, COARSE), width, height);
  const least = Float32Array.from(coarse).sort()[Math.floor(coarse.length * (1 - STRONGEST))];
  let [blurred, all] = [0, 0];
  for (let i = 0; i < coarse.length; i++) {
    if (coarse[i] <= Math.max(1e-3, least)) continue;
    all++;
    if (fine[i] < BLURRED * coarse[i]) blurred++;
  }
  return all > 0 ? blurred / all : 0;
}

function slopes(plane: Float32Array, width: number, height: number): Float32Array {
  const out = new Float32Array(plane.length);
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x;
      out[i] = Math.hypot(plane[i + 1] - plane[i - 1], plane[i + width] - plane[i - width]);
    }
  return out;
}
