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
  const out = new Uint16Array(width * height);
  const at = (x: number, y: number): number =>
    map.data[Math.min(map.height - 1, Math.max(0, y)) * map.width + Math.min(map.width - 1, Math.max(0, x))];
  for (let y = 0; y < height; y++) {
    const py = ((y + 0.5) * map.height) / height - 0.5;
    const y0 = Math.floor(py);
    const fy = py - y0;
    for (let x = 0; x < width; x++) {
      const px = ((x + 0.5) * map.width) / width - 0.5;
      const x0 = Math.floor(px);
      const fx = px - x0;
      const a = at(x0, y0);
      const b = at(x0 + 1, y0);
      const c = at(x0, y0 + 1);
      const d = at(x0 + 1, y0 + 1);
      if (Math.max(a, b, c, d) - Math.min(a, b, c, d) > APART) {
        out[y * width + x] = at(Math.round(px), Math.round(py));
      } else {
        out[y * width + x] = Math.round((a + (b - a) * fx) * (1 - fy) + (c + (d - c) * fx) * fy);
      }
    }
  }
  return { width, height, data: out };
}
