import { extendDepth } from '../depth/extendDepth';
import type { DepthMap, Mask } from '../raster/picture';

/** Narrowest span that still stretches a map. */
export const NARROWEST_SPAN = 0.02;

/**
 * So many of a plate's pixels may be strays at either end: mixed ones at its edge, that show the depth of what lies
 * behind or before.
 */
const STRAY = 0.003;

/** The depths that a plate's core takes. Few pixels far off the others do not count: they come to the nearest end of the span. */
function coreRange(depth: DepthMap, matte: Mask): { low: number; high: number } {
  const counts = new Uint32Array(65536);
  let total = 0;
  let least = 65535;
  let most = 0;
  for (let i = 0; i < depth.data.length; i++) {
    if (matte.data[i] < 128) continue;
    const d = depth.data[i];
    counts[d]++;
    total++;
    if (d < least) least = d;
    if (d > most) most = d;
  }
  if (total === 0) return { low: 0, high: 65535 };
  let low = least;
  let high = most;
  for (let n = counts[low]; n <= STRAY * total; n += counts[low]) low++;
  for (let n = counts[high]; n <= STRAY * total; n += counts[high]) high--;
  // Where depth only runs on a little it is the plate's own: then nothing is cut off.
  return high - low < 0.75 * (most - least) ? { low, high } : { low: least, high: most };
}

/** What a plate gets of the map it is cut from: its own map over its own span. */
export interface CutDepth {
  readonly depth: DepthMap;
  readonly near: number;
  readonly far: number;
}

/**
 * The depth of a plate cut out of a map: every pixel stays at the depth it had, but the map is stretched over the span that the
 * plate really takes, and goes on beyond the matte as the plate's edge does.
 *
 * @param depth the map it is cut from
 * @param span which depths that map is stretched over
 * @param matte the plate's coverage; its core (128 and more) decides the span, but for strays
 */
export function cutDepth(
  depth: DepthMap,
  span: { readonly near: number; readonly far: number },
  matte: Mask,
): CutDepth {
  const { low, high } = coreRange(depth, matte);
  const at = (v: number): number => span.far + ((span.near - span.far) * v) / 65535;
  // A flat plate still needs a span: a little to both sides, within the ruler.
  let near = at(high);
  let far = at(low);
  if (near - far < NARROWEST_SPAN) {
    const middle = Math.min(1 - NARROWEST_SPAN / 2, Math.max(NARROWEST_SPAN / 2, (near + far) / 2));
    near = middle + NARROWEST_SPAN / 2;
    far = middle - NARROWEST_SPAN / 2;
  }
  // Ends in thousandths, outwards, as the board shows them.
  near = Math.min(1, Math.ceil(near * 1000 - 1e-6) / 1000);
  far = Math.max(0, Math.floor(far * 1000 + 1e-6) / 1000);
  const extended = extendDepth(depth, matte);
  const data = extended.data;
  for (let i = 0; i < data.length; i++)
    data[i] = Math.min(65535, Math.max(0, Math.round(((at(data[i]) - far) / (near - far)) * 65535)));
  return { depth: extended, near, far };
}
