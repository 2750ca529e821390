import { type Rect, clipRect } from '../raster/geometry';
import type { DepthWindow } from './window';

export const RAMP_SHAPES = ['line', 'circle', 'reflected'] as const;

/** Depth rising evenly from one point to another. Full-size px, depth 0 to 1. */
export interface Ramp {
  readonly from: { readonly x: number; readonly y: number; readonly depth: number };
  readonly to: { readonly x: number; readonly y: number; readonly depth: number };
  /**
   * line: the same along lines across it; circle: around `from`; reflected: as the line, on both sides of `from`.
   * @default line
   */
  readonly shape?: (typeof RAMP_SHAPES)[number] | undefined;
  /** Beyond its ends the ramp keeps the end's depth, or leaves the map alone. */
  readonly reach: 'everywhere' | 'between';
  /** What the ramp does to the depth that is there: replaces it, or wins only where it is nearer or farther. */
  readonly against: 'replace' | 'nearer' | 'farther';
}

/**
 * Puts a ramp into a window, in place. Since depth is linear in inverse distance, a floor seen in perspective is such
 * a ramp.
 */
export function applyRamp(window: DepthWindow, ramp: Ramp): Rect | undefined {
  const { left, top, scale, width, height, data } = window;
  const { from, to } = ramp;
  const dx = to.x - from.x;
  const dy = to.y - from.y;
  const length2 = dx * dx + dy * dy;
  if (length2 === 0) return undefined;
  /** How far between the ends a place lies, from `from`: 0 there, 1 at `to`. */
  const along = (px: number, py: number): number => {
    const { shape } = ramp;
    if (shape === 'circle') return Math.sqrt((px * px + py * py) / length2);
    const t = (px * dx + py * dy) / length2;
    return shape === 'reflected' ? Math.abs(t) : t;
  };
  for (let y = 0; y < height; y++) {
    const py = (y + 0.5) / scale + top - from.y;
    for (let x = 0; x < width; x++) {
      const px = (x + 0.5) / scale + left - from.x;
      const t = along(px, py);
      if (ramp.reach === 'between' && (t < 0 || t > 1)) continue;
      const value = Math.round((from.depth + (to.depth - from.depth) * Math.min(1, Math.max(0, t))) * 65535);
      const i = y * width + x;
      if (ramp.against === 'replace' || (ramp.against === 'nearer' ? value > data[i] : value < data[i]))
        data[i] = value;
    }
  }
  return clipRect({ left: 0, top: 0, right: width, bottom: height }, width, height);
}
