import type { Ranges } from './ranges';

/** What a step of one px of disparity costs from pixel to pixel, and a jump; over an edge of the picture a jump costs less. */
const STEP = 12;
const JUMP = 90;
const LEAST_JUMP = 30;
/** A difference of so many 8-bit steps of grey makes a jump half as dear. */
const EDGE = 12;

/**
 * Costs of disparities with those of all around: summed along eight paths that lead to each pixel, on which steps and jumps cost.
 * Source: Hirschmueller, "Stereo processing by semiglobal matching and mutual information", PAMI 30(2), 2008.
 * @param grey of the left picture
 */
export function aggregate(costs: Uint8Array, grey: Float32Array, ranges: Ranges): Uint16Array {
  const sums = new Uint16Array(costs.length);
  for (const forwards of [true, false]) pass({ costs, grey, ranges, sums }, forwards);
  return sums;
}

interface Paths {
  readonly costs: Uint8Array;
  readonly grey: Float32Array;
  readonly ranges: Ranges;
  readonly sums: Uint16Array;
}

/** Four of the paths: along the row, and from the three pixels of the row before. */
function pass({ costs, grey, ranges, sums }: Paths, forwards: boolean): void {
  const { width, height, first, last, at } = ranges;
  const step = forwards ? 1 : -1;
  let longest = 0;
  for (let y = 0; y < height; y++) longest = Math.max(longest, at[(y + 1) * width] - at[y * width]);
  /** Path costs of the row and of the one before, for the three paths that come from there; their least a pixel. */
  const paths = [0, 1, 2].map(() => [new Uint16Array(longest), new Uint16Array(longest)]);
  const leasts = [0, 1, 2].map(() => [new Uint16Array(width), new Uint16Array(width)]);
  const row = new Uint16Array(longest);
  for (let n = 0; n < height; n++) {
    const y = forwards ? n : height - 1 - n;
    const start = at[y * width];
    const before = y - step;
    const [now, was] = n % 2 === 0 ? [0, 1] : [1, 0];
    let leastAlong = 0;
    for (let m = 0; m < width; m++) {
      const x = forwards ? m : width - 1 - m;
      const i = y * width + x;
      const many = last[i] - first[i] + 1;
      const k = at[i];
      const to = k - start;
      // Along the row.
      leastAlong = extend(
        costs,
        { k, many, out: row, to },
        {
          path: row,
          from: m === 0 ? -1 : at[i - step] - start,
          shift: m === 0 ? 0 : first[i] - first[i - step],
          count: m === 0 ? 0 : last[i - step] - first[i - step] + 1,
          least: leastAlong,
          jump: m === 0 ? 0 : jumpOf(grey[i] - grey[i - step]),
        },
      );
      for (let q = 0; q < many; q++) sums[k + q] += row[to + q];
      // From the row before: beside, over, on the other side.
      for (let p = 0; p < 3; p++) {
        const u = x + p - 1;
        const j = before * width + u;
        const has = n > 0 && u >= 0 && u < width;
        const path = paths[p][now];
        leasts[p][now][x] = extend(
          costs,
          { k, many, out: path, to },
          {
            path: paths[p][was],
            from: has ? at[j] - at[before * width] : -1,
            shift: has ? first[i] - first[j] : 0,
            count: has ? last[j] - first[j] + 1 : 0,
            least: has ? leasts[p][was][u] : 0,
            jump: has ? jumpOf(grey[i] - grey[j]) : 0,
          },
        );
        for (let q = 0; q < many; q++) sums[k + q] += path[to + q];
      }
    }
  }
}

const jumpOf = (difference: number): number => Math.max(LEAST_JUMP, JUMP / (1 + Math.abs(difference) / EDGE)) | 0;

/** Where a path comes from: its costs there, how far its disparities are shifted, and the least of them. */
interface Coming {
  readonly path: Uint16Array;
  /** -1: the path begins here. */
  readonly from: number;
  readonly shift: number;
  readonly count: number;
  readonly least: number;
  readonly jump: number;
}

/** A pixel that a path comes to: where its disparities lie among the costs, how many, and where their path costs go. */
interface Going {
  readonly k: number;
  readonly many: number;
  readonly out: Uint16Array;
  readonly to: number;
}

/** Leads a path on to a pixel. @returns the least of its costs there */
function extend(
  costs: Uint8Array,
  { k, many, out, to }: Going,
  { path, from, shift, count, least, jump }: Coming,
): number {
  let best = 65535;
  if (from < 0) {
    for (let q = 0; q < many; q++) {
      const cost = costs[k + q];
      out[to + q] = cost;
      if (cost < best) best = cost;
    }
    return best;
  }
  const far = least + jump;
  for (let q = 0; q < many; q++) {
    const at = q + shift;
    let cheapest = far;
    if (at >= 0 && at < count && path[from + at] < cheapest) cheapest = path[from + at];
    if (at >= 1 && at <= count) {
      const v = path[from + at - 1] + STEP;
      if (v < cheapest) cheapest = v;
    }
    if (at >= -1 && at < count - 1) {
      const v = path[from + at + 1] + STEP;
      if (v < cheapest) cheapest = v;
    }
    const cost = costs[k + q] + cheapest - least;
    out[to + q] = cost;
    if (cost < best) best = cost;
  }
  return best;
}
