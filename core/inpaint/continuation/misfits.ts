import { distanceTo } from '../../raster/distance';
import { gaussianWeights } from '../../raster/gaussian';
import { smoothFill } from '../smoothFill';
import { blurred, type Ground } from './ground';
import type { Offset } from './offsets';

/** Known places so near to the hole tell how an offset fits, px. */
const BAND = 45;
/** Over so wide a window, px. */
const SIGMA = 14;
/** Where an offset reaches nothing it fits as badly as anything can. */
const UNTOLD = Math.fround(Math.log(255 ** 2));

/** How badly offsets fit, on a coarser grid: logarithms of mean squared differences, one plane an offset. */
export interface Misfits {
  readonly width: number;
  readonly height: number;
  readonly planes: readonly Float32Array[];
}

/**
 * How badly each offset fits: of known places near the hole, at full size, spread into the hole from there by the membrane.
 * @param factor of the grid
 */
export function misfitsOf(
  ground: Ground,
  offsets: readonly Offset[],
  factor: number,
  onProgress: (share: number) => void = () => undefined,
): Misfits {
  const { width, height, known } = ground;
  const w = Math.ceil(width / factor);
  const h = Math.ceil(height / factor);
  const away = distanceTo({ width, height, data: known.map((v) => (v ? 0 : 255)) });
  /** Runs of the band: row, first column, the one behind the last. */
  const band: number[] = [];
  /** 1 where the band says something, 2 in the hole. */
  const kind = new Uint8Array(w * h);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const cell = Math.floor(y / factor) * w + Math.floor(x / factor);
      const inBand = known[i] === 1 && away[i] <= BAND;
      if (!known[i]) kind[cell] ||= 2;
      else if (inBand) kind[cell] = 1;
      if (!inBand) continue;
      const last = band.length - 1;
      if (last > 0 && band[last - 2] === y && band[last] === x) band[last]++;
      else band.push(y, x, x + 1);
    }
  const runs = Int32Array.from(band);
  const open = kind.map((v) => (v === 2 ? 1 : 0));
  const weights = gaussianWeights(SIGMA / factor);
  const planes = offsets.map((offset, n) => {
    onProgress(n / offsets.length);
    return logMisfit(ground, runs, offset, { factor, w, h, kind, weights });
  });
  // Four at a time, the membrane takes no longer for it; those that go the same way are untold at the same places.
  const order = offsets.map((_, n) => n).sort((a, b) => angleOf(offsets[a]) - angleOf(offsets[b]));
  for (let first = 0; first < order.length; first += 4) {
    const four = order.slice(first, first + 4).map((n) => planes[n]);
    const values = new Float32Array(w * h * 4);
    const unknown = Uint8Array.from(open);
    four.forEach((plane, c) => {
      for (let i = 0; i < plane.length; i++) {
        values[i * 4 + c] = plane[i];
        if (plane[i] === UNTOLD) unknown[i] = 1;
      }
    });
    smoothFill(values, unknown, { width: w, height: h, channels: 4 });
    four.forEach((plane, c) => {
      for (let i = 0; i < plane.length; i++) plane[i] = values[i * 4 + c];
    });
  }
  return { width: w, height: h, planes };
}

const angleOf = ({ dx, dy }: Offset): number => Math.atan2(dy, dx);

interface Grid {
  readonly factor: number;
  readonly w: number;
  readonly h: number;
  readonly kind: Uint8Array;
  readonly weights: Float32Array;
}

/** The misfit along the band. */
function logMisfit(
  { width, height, colours, from }: Ground,
  runs: Int32Array,
  { dx, dy }: Offset,
  { factor, w, h, kind, weights }: Grid,
): Float32Array {
  const sums = new Float32Array(w * h);
  const counts = new Float32Array(w * h);
  for (let n = 0; n < runs.length; n += 3) {
    const y = runs[n];
    const v = y + dy;
    // Every second place both ways says enough.
    if (y & 1) continue;
    if (v < 0 || v >= height) continue;
    const end = Math.min(runs[n + 2], width - dx);
    const row = Math.floor(y / factor) * w;
    const step = dy * width + dx;
    const first = Math.max(runs[n + 1], -dx);
    for (let x = first + (first & 1), i = y * width + x; x < end; x += 2, i += 2) {
      if (from[i + step] === 0) continue;
      const k = i * 3;
      const l = k + step * 3;
      const r = colours[k] - colours[l];
      const g = colours[k + 1] - colours[l + 1];
      const b = colours[k + 2] - colours[l + 2];
      const cell = row + ((x / factor) | 0);
      sums[cell] += r * r + g * g + b * b;
      counts[cell]++;
    }
  }
  const smoothSums = blurred(sums, w, h, weights);
  const smoothCounts = blurred(counts, w, h, weights);
  const out = new Float32Array(w * h);
  // Where less than a tenth of a cell's places could be told, nothing was.
  const least = (0.1 * factor * factor) / 4;
  for (let i = 0; i < out.length; i++)
    if (kind[i] === 1)
      out[i] = counts[i] > 0 && smoothCounts[i] > least ? Math.log(smoothSums[i] / (3 * smoothCounts[i]) + 1) : UNTOLD;
  return out;
}
