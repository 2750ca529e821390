import type { DepthMap } from '../raster/picture';
import { DepthCounts, DepthModel } from './depthModel';
import { STROKE_IN, type Strokes } from './strokes';

/** So many of the strokes' pixels must be foretold: below the first depth says nothing, from the second on all it can. */
const FROM = 0.6;
const FULLY = 0.9;
/** A stroke tells by so many of its pixels at most. */
const TOLD_BY = 400;

/** One stroke: all pixels of one side that touch. */
interface Stroke {
  readonly inside: boolean;
  readonly depths: Float32Array;
  readonly counts: DepthCounts;
}

/**
 * How far depth tells what strokes mean, 0 to 1: each stroke is left out in turn, and its side foretold from the depths of the
 * others. A ramp over the whole picture foretells nothing; a map in which things stand apart does.
 */
export function depthTrust(strokes: Strokes, depth: DepthMap): number {
  const all = strokesOf(strokes, depth);
  const sums = [true, false].map((inside) => {
    const side = all.filter((s) => s.inside === inside);
    return { many: side.length, counts: side.reduce((sum, s) => sum.plus(s.counts), new DepthCounts()) };
  });
  const [ins, outs] = sums;
  let right = 0;
  let asked = 0;
  for (const left of all) {
    const side = left.inside ? ins : outs;
    const opposite = left.inside ? outs : ins;
    // A side's only stroke cannot be left out.
    if (side.many < 2 || opposite.many === 0) continue;
    const same = new DepthModel(side.counts.plus(left.counts, -1));
    const other = new DepthModel(opposite.counts);
    let foretold = 0;
    for (const d of left.depths) if (other.cost(d) > same.cost(d)) foretold++;
    right += foretold / left.depths.length;
    asked++;
  }
  if (asked === 0) return 0;
  return Math.min(1, Math.max(0, (right / asked - FROM) / (FULLY - FROM)));
}

function strokesOf({ width, height, data }: Strokes, depth: DepthMap): Stroke[] {
  const seen = new Uint8Array(data.length);
  const found: Stroke[] = [];
  for (let first = 0; first < data.length; first++) {
    if (data[first] === 0 || seen[first]) continue;
    const side = data[first];
    const pixels = [first];
    seen[first] = 1;
    for (let n = 0; n < pixels.length; n++) {
      const x = pixels[n] % width;
      const y = (pixels[n] - x) / width;
      for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
        for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
          const j = v * width + u;
          if (data[j] !== side || seen[j]) continue;
          seen[j] = 1;
          pixels.push(j);
        }
    }
    const every = Math.ceil(pixels.length / TOLD_BY);
    const depths = Float32Array.from(
      pixels.filter((_, n) => n % every === 0),
      (i) => depth.data[i],
    );
    const counts = new DepthCounts();
    for (const d of depths) counts.add(d, 1);
    found.push({ inside: side === STROKE_IN, depths, counts });
  }
  return found;
}
