import { requireSameSize, type DepthMap, type Picture8 } from '../../raster/picture';
import { halvePicture } from '../../raster/halve';
import { aggregate } from './aggregate';
import { censusOf } from './census';
import { cheapest } from './disparity';
import { fillFromFarther } from './fillFromFarther';
import { matchCosts, type Matched } from './matchCosts';
import { narrowed, wholeRange } from './ranges';

/** The coarsest picture that is matched is so wide at most, px; there all disparities between these shares of it are looked at. */
const COARSEST = 200;
const FARTHEST = -0.12;
const NEAREST = 0.3;

/** Depth of the left of two pictures, and which parallax (xR - xL, px) white and black have. */
export interface PairDepth {
  readonly depth: DepthMap;
  readonly nearPx: number;
  readonly farPx: number;
  /** Share of the picture that the other one does not show, and that was filled from the farther side. */
  readonly filled: number;
}

/**
 * Depth from a second picture, taken a step to the right: semi-global matching from coarse to fine, checked by the other picture.
 * Sources: Hirschmueller (aggregate), Rothermel and others (ranges).
 * @param left, right rectified: what is the same lies in the same row
 * @throws CoreError `size-differs`
 */
export function depthFromPair(
  left: Picture8,
  right: Picture8,
  onProgress: (share: number) => void = () => undefined,
): PairDepth {
  requireSameSize('The right picture', right, 'the left one', left);
  const levels: [Picture8, Picture8][] = [[left, right]];
  while (levels[0][0].width > COARSEST) levels.unshift([halvePicture(levels[0][0]), halvePicture(levels[0][1])]);
  const whole = levels.reduce((n, [l]) => n + l.width * l.height, 0);
  let done = 0;
  let found: { readonly map: Float32Array; readonly width: number; readonly height: number } | undefined;
  let unknown = 0;
  for (const [l, r] of levels) {
    const { width, height } = l;
    const ranges = found
      ? narrowed(found.map, found, width, height)
      : wholeRange(width, height, Math.floor(FARTHEST * width), Math.ceil(NEAREST * width));
    const grey = greyOf(l);
    const costs = matchCosts(matched(l, grey), matched(r, greyOf(r)), ranges);
    const raw = cheapest(aggregate(costs, grey, ranges), ranges);
    unknown = raw.reduce((n, v) => n + (v === -32768 ? 1 : 0), 0) / raw.length;
    found = { map: fillFromFarther(raw, width, height), width, height };
    done += width * height;
    onProgress(done / whole);
  }
  return { ...asDepth(found!.map, left), filled: unknown };
}

const matched = (picture: Picture8, grey: Float32Array): Matched => ({
  census: censusOf(grey, picture.width, picture.height),
  data: picture.data,
});

/** Grey, 0 to 255 (luma of ITU-R BT.601). */
function greyOf({ data }: Picture8): Float32Array {
  const grey = new Float32Array(data.length / 4);
  for (let i = 0; i < grey.length; i++)
    grey[i] = 0.299 * data[4 * i] + 0.587 * data[4 * i + 1] + 0.114 * data[4 * i + 2];
  return grey;
}

/** Disparities between the least and the greatest as depth, white near. */
function asDepth(map: Float32Array, { width, height }: Picture8): Omit<PairDepth, 'filled'> {
  let [least, most] = [Infinity, -Infinity];
  for (const v of map) {
    if (v < least) least = v;
    if (v > most) most = v;
  }
  const span = Math.max(1e-6, most - least);
  const data = Uint16Array.from(map, (v) => ((v - least) / span) * 65535 + 0.5);
  return { depth: { width, height, data }, nearPx: -most, farPx: -least };
}
