import type { Rect } from './geometry';
import type { DepthMap } from './picture';

/** Values within one target pixel farther apart than this belong to two things (1/64 of all depth). */
export const APART = 1024;

/**
 * A depth map at another size. Smaller: the mean over each target pixel, but where two things meet in it only of the
 * thing
 * that covers more of it, since a depth between two things is neither. Larger: linear, but across jumps the nearest
 * pixel.
 * Both sizes should have the same proportions; that is the caller's to check.
 * @param span how much of the map is meant, px: its last column and row may stand for less than a pixel @default all
 * of it
 */
export function resizeDepth(
  map: DepthMap,
  { width, height }: { readonly width: number; readonly height: number },
  span: { readonly width: number; readonly height: number } = map,
): DepthMap {
  if (width === map.width && height === map.height) return { width, height, data: map.data.slice() };
  return width < map.width || height < map.height ? reduce(map, width, height, span) : enlarge(map, width, height);
}

function reduce(
  map: DepthMap,
  width: number,
  height: number,
  span: { readonly width: number; readonly height: number },
): DepthMap {
  const out = new Uint16Array(width * height);
  for (let y = 0; y < height; y++) {
    const y0 = Math.floor((y * span.height) / height);
    const y1 = Math.max(y0 + 1, Math.min(map.height, Math.floor(((y + 1) * span.height) / height)));
    for (let x = 0; x < width; x++) {
      const x0 = Math.floor((x * span.width) / width);
      const x1 = Math.max(x0 + 1, Math.min(map.width, Math.floor(((x + 1) * span.width) / width)));
      let low = 65535;
      let high = 0;
      let sum = 0;
      for (let v = y0; v < y1; v++) {
        for (let i = v * map.width + x0; i < v * map.width + x1; i++) {
          const d = map.data[i];
          if (d < low) low = d;
          if (d > high) high = d;
          sum += d;
        }
      }
      const n = (y1 - y0) * (x1 - x0);
      out[y * width + x] =
        high - low <= APART
          ? Math.round(sum / n)
          : majority(map, { left: x0, right: x1, top: y0, bottom: y1 }, (low + high) / 2);
    }
  }
  return { width, height, data: out };
}

/** Mean of the larger of the two groups that `middle` parts; the nearer one on a tie. */
function majority(map: DepthMap, { left, top, right, bottom }: Rect, middle: number): number {
  let near = 0;
  let nearSum = 0;
  let far = 0;
  let farSum = 0;
  for (let v = top; v < bottom; v++) {
    for (let i = v * map.width + left; i < v * map.width + right; i++) {
      const d = map.data[i];
      if (d >= middle) {
        near++;
        nearSum += d;
      } else {
        far++;
        farSum += d;
      }
    }
  }
  return Math.round(near >= far ? nearSum / near : farSum / far);
}

function enlarge(map: DepthMap, width: number, height: number): DepthMap {
  const { data } = map;
  const out = new Uint16Array(width * height);
  const across = stepsOf(width, map.width);
  const down = stepsOf(height, map.height);
  // Between two rows of the map: where things part from a column to the next, and each column at the row's height.
  const parts = new Uint8Array(map.width);
  const column = new Float64Array(map.width);
  const rowAt = (y: number): Uint16Array => data.subarray(y * map.width, (y + 1) * map.width);
  for (let y = 0; y < height; y++) {
    const upper = rowAt(down.before[y]);
    const lower = rowAt(down.behind[y]);
    if (y === 0 || down.before[y] !== down.before[y - 1] || down.behind[y] !== down.behind[y - 1])
      markParts(parts, upper, lower);
    const share = down.share[y];
    for (let x = 0; x < column.length; x++) column[x] = upper[x] + (lower[x] - upper[x]) * share;
    enlargeRow(out.subarray(y * width, (y + 1) * width), across, { parts, column, nearest: rowAt(down.nearest[y]) });
  }
  return { width, height, data: out };
}

interface Row {
  readonly parts: Uint8Array;
  readonly column: Float64Array;
  /** The nearest row of the map. */
  readonly nearest: Uint16Array;
}

/** One row: as a function by itself it runs twice as fast as within the loop over rows. */
function enlargeRow(
  out: Uint16Array,
  { before, behind, nearest, share }: Steps,
  { parts, column, nearest: row }: Row,
): void {
  for (let x = 0; x < out.length; x++) {
    const left = before[x];
    if (parts[left] !== 0) out[x] = row[nearest[x]];
    // Values are positive: half up is to the nearest.
    else out[x] = column[left] + (column[behind[x]] - column[left]) * share[x] + 0.5;
  }
}

/** Marks columns of which the next one, over both rows, may belong to another thing. */
function markParts(parts: Uint8Array, upper: Uint16Array, lower: Uint16Array): void {
  for (let x = 0; x < parts.length; x++) {
    const next = Math.min(parts.length - 1, x + 1);
    const [a, b, c, d] = [upper[x], upper[next], lower[x], lower[next]];
    parts[x] = Math.max(a, b, c, d) - Math.min(a, b, c, d) > APART ? 1 : 0;
  }
}

/** Between which of a map's columns (or rows) each one of a larger size lies, and which is nearest. */
interface Steps {
  readonly before: Int32Array;
  readonly behind: Int32Array;
  readonly nearest: Int32Array;
  readonly share: Float64Array;
}

function stepsOf(count: number, from: number): Steps {
  const steps = {
    before: new Int32Array(count),
    behind: new Int32Array(count),
    nearest: new Int32Array(count),
    share: new Float64Array(count),
  };
  const within = (n: number): number => Math.min(from - 1, Math.max(0, n));
  for (let n = 0; n < count; n++) {
    const at = ((n + 0.5) * from) / count - 0.5;
    const first = Math.floor(at);
    steps.before[n] = within(first);
    steps.behind[n] = within(first + 1);
    steps.nearest[n] = within(Math.round(at));
    steps.share[n] = at - first;
  }
  return steps;
}
