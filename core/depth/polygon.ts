import { clipRect, type Rect } from '../raster/geometry';
import { type DepthWindow } from './window';

/** A closed outline, full-size px, filled with one depth (0 to 1). Crossing lines make holes (even-odd rule). */
export interface PolygonFill {
  readonly points: readonly { readonly x: number; readonly y: number }[];
  readonly depth: number;
}

/**
 * Fills every pixel of the window whose centre lies inside the polygon, in place. No mixed values at the edge: half
 * depth is no depth.
 */
export function applyPolygon(window: DepthWindow, polygon: PolygonFill): Rect | undefined {
  const { left, top, scale, width, height, data } = window;
  const xs = polygon.points.map((p) => (p.x - left) * scale);
  const ys = polygon.points.map((p) => (p.y - top) * scale);
  const rect = clipRect(
    { left: Math.min(...xs), top: Math.min(...ys), right: Math.max(...xs) + 1, bottom: Math.max(...ys) + 1 },
    width,
    height,
  );
  if (!rect) return undefined;
  const value = Math.round(polygon.depth * 65535);
  for (let y = rect.top; y < rect.bottom; y++) {
    const centre = y + 0.5;
    const crossings: number[] = [];
    for (let i = 0, j = xs.length - 1; i < xs.length; j = i++) {
      if (ys[i] > centre !== ys[j] > centre)
        crossings.push(xs[i] + ((centre - ys[i]) * (xs[j] - xs[i])) / (ys[j] - ys[i]));
    }
    crossings.sort((a, b) => a - b);
    for (let c = 0; c + 1 < crossings.length; c += 2) {
      const first = Math.max(0, Math.ceil(crossings[c] - 0.5));
      const end = Math.min(width, Math.ceil(crossings[c + 1] - 0.5));
      if (end > first) data.fill(value, y * width + first, y * width + end);
    }
  }
  return rect;
}
