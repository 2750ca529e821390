import type { Point } from '../raster/geometry';
import type { Mask } from '../raster/picture';

/** Lines a pixel is cut into down its height; across, coverage is exact. */
const LINES = 4;

/** A closed outline as a matte, with half-covered pixels at its edge; crossing lines make holes (even-odd rule). Points in px. */
export function drawOutline(width: number, height: number, points: readonly Point[]): Mask {
  return drawRings(width, height, [points]);
}

/** Several closed outlines together: where they overlap they make holes (even-odd rule). Points in px. */
export function drawRings(width: number, height: number, rings: readonly (readonly Point[])[]): Mask {
  const cover = new Float32Array(width + 2);
  const data = new Uint8Array(width * height);
  let low = Infinity;
  let high = -Infinity;
  for (const ring of rings)
    for (const p of ring) {
      low = Math.min(low, p.y);
      high = Math.max(high, p.y);
    }
  const top = Math.max(0, Math.floor(low));
  const bottom = Math.min(height, Math.ceil(high));
  for (let y = top; y < bottom; y++) {
    cover.fill(0);
    for (let line = 0; line < LINES; line++) {
      const v = y + (line + 0.5) / LINES;
      const crossings: number[] = [];
      for (const points of rings) {
        for (let i = 0, j = points.length - 1; i < points.length; j = i++) {
          const a = points[i];
          const b = points[j];
          if (a.y > v !== b.y > v) crossings.push(a.x + ((v - a.y) * (b.x - a.x)) / (b.y - a.y));
        }
      }
      crossings.sort((p, q) => p - q);
      for (let c = 0; c + 1 < crossings.length; c += 2)
        span(cover, Math.max(0, crossings[c]), Math.min(width, crossings[c + 1]));
    }
    for (let x = 0; x < width; x++) data[y * width + x] = Math.min(255, Math.round((cover[x] * 255) / LINES));
  }
  return { width, height, data };
}

/** Adds a line from `from` to `to` to what each pixel is covered. */
function span(cover: Float32Array, from: number, to: number): void {
  if (to <= from) return;
  const first = Math.floor(from);
  const last = Math.floor(to);
  if (first === last) {
    cover[first] += to - from;
    return;
  }
  cover[first] += first + 1 - from;
  for (let x = first + 1; x < last; x++) cover[x]++;
  cover[last] += to - last;
}
