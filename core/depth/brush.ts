import { clipRect, type Rect } from '../raster/geometry';
import { type DepthWindow } from './window';

/** One sample of the pen, full-size px; pressure 0 to 1. */
export interface StrokePoint {
  readonly x: number;
  readonly y: number;
  readonly pressure: number;
}

/** How the depth brush works. */
export interface BrushSettings {
  /** set: towards `depth`; nearer, farther: by `depth`; smooth: towards the local mean. */
  readonly mode: 'set' | 'nearer' | 'farther' | 'smooth';
  /** 0 farthest to 1 nearest; for nearer and farther the largest change. */
  readonly depth: number;
  /** Diameter, full-size px. */
  readonly size: number;
  /** Share of the radius that works in full, 0 to 1; beyond it the brush fades. */
  readonly hardness: number;
  /** 0 to 1. */
  readonly strength: number;
  /** What the pen's pressure changes. */
  readonly pressure: 'none' | 'strength' | 'size';
}

/**
 * One stroke being painted into a window. A pixel's coverage is the largest along the path, so a stroke that crosses itself
 * does not build up, and the result does not depend on how the points were bundled.
 */
export class BrushStroke {
  private readonly base: Uint16Array;
  private readonly coverage: Uint16Array;
  private softened: Float32Array | undefined;
  private last: StrokePoint | undefined;

  constructor(
    private readonly window: DepthWindow,
    private readonly settings: BrushSettings,
  ) {
    this.base = window.data.slice();
    this.coverage = new Uint16Array(window.data.length);
  }

  /** Paints on to the given points, in place. Returns what changed, in window px. */
  add(points: readonly StrokePoint[]): Rect | undefined {
    let changed: Rect | undefined;
    for (const point of points) {
      const rect = this.segment(this.last ?? point, point);
      if (rect)
        changed = changed
          ? {
              left: Math.min(changed.left, rect.left),
              top: Math.min(changed.top, rect.top),
              right: Math.max(changed.right, rect.right),
              bottom: Math.max(changed.bottom, rect.bottom),
            }
          : rect;
      this.last = point;
    }
    if (changed) this.apply(changed);
    return changed;
  }

  /** Raises the coverage along the capsule from a to b. */
  private segment(a: StrokePoint, b: StrokePoint): Rect | undefined {
    const { left, top, scale, width, height } = this.window;
    const { size, hardness, strength, pressure } = this.settings;
    const radiusOf = (p: StrokePoint): number =>
      Math.max(0.5, (size / 2) * scale * (pressure === 'size' ? p.pressure : 1));
    const flowOf = (p: StrokePoint): number => strength * (pressure === 'strength' ? p.pressure : 1) * 65535;
    // Pixel (i, j) of the window has its centre at i + 0.5; full-size points likewise.
    const ax = (a.x - left) * scale;
    const ay = (a.y - top) * scale;
    const bx = (b.x - left) * scale;
    const by = (b.y - top) * scale;
    const ra = radiusOf(a);
    const rb = radiusOf(b);
    const fa = flowOf(a);
    const fb = flowOf(b);
    const reach = Math.max(ra, rb) + 1;
    const rect = clipRect(
      {
        left: Math.min(ax, bx) - reach,
        top: Math.min(ay, by) - reach,
        right: Math.max(ax, bx) + reach,
        bottom: Math.max(ay, by) + reach,
      },
      width,
      height,
    );
    if (!rect) return undefined;
    const dx = bx - ax;
    const dy = by - ay;
    const length2 = dx * dx + dy * dy;
    const { coverage } = this;
    // Where the coverage is as high already as this piece can raise it, nothing is worked out: pieces of a stroke lie over one another.
    const peak = Math.round(Math.max(fa, fb));
    for (let y = rect.top; y < rect.bottom; y++) {
      for (let x = rect.left; x < rect.right; x++) {
        const i = y * width + x;
        if (coverage[i] >= peak) continue;
        const px = x + 0.5 - ax;
        const py = y + 0.5 - ay;
        const t = length2 > 0 ? Math.min(1, Math.max(0, (px * dx + py * dy) / length2)) : 0;
        const ex = px - t * dx;
        const ey = py - t * dy;
        const radius = ra + (rb - ra) * t;
        const distance2 = ex * ex + ey * ey;
        if (distance2 >= (radius + 0.5) * (radius + 0.5)) continue;
        const distance = Math.sqrt(distance2);
        const soft = radius * (1 - hardness);
        let c = Math.min(1, radius + 0.5 - distance);
        if (soft > 0.5 && distance > radius - soft) {
          const s = Math.min(1, (distance - (radius - soft)) / soft);
          c = Math.min(c, 1 - s * s * (3 - 2 * s));
        }
        const value = Math.round(c * (fa + (fb - fa) * t));
        if (value > coverage[i]) coverage[i] = value;
      }
    }
    return rect;
  }

  /** Sets the depth from the base and the coverage. */
  private apply(rect: Rect): void {
    const {
      window: { width, data },
      base,
      coverage,
      settings: { mode, depth },
    } = this;
    const target = depth * 65535;
    const softened = mode === 'smooth' ? (this.softened ??= this.soften()) : undefined;
    for (let y = rect.top; y < rect.bottom; y++) {
      for (let i = y * width + rect.left; i < y * width + rect.right; i++) {
        const c = coverage[i] / 65535;
        if (c === 0) continue;
        const was = base[i];
        let change = target;
        if (mode === 'set') change = target - was;
        else if (mode === 'farther') change = -target;
        else if (softened) change = softened[i] - was;
        data[i] = Math.min(65535, Math.max(0, Math.round(was + change * c)));
      }
    }
  }

  /** The base after two box blurs of a quarter of the brush's radius. */
  private soften(): Float32Array {
    const { width, height, scale } = this.window;
    const radius = Math.max(1, Math.round((this.settings.size * scale) / 8));
    const from = Float32Array.from(this.base);
    const to = new Float32Array(from.length);
    for (let turn = 0; turn < 2; turn++) {
      for (let y = 0; y < height; y++) boxLine(from, to, { start: y * width, stride: 1, count: width }, radius);
      for (let x = 0; x < width; x++) boxLine(to, from, { start: x, stride: width, count: height }, radius);
    }
    return from;
  }
}

/** Where the values of a line lie: the first, how far apart they are, and how many. */
interface Line {
  readonly start: number;
  readonly stride: number;
  readonly count: number;
}

/** Running mean along one line; at the ends over what there is. */
function boxLine(from: Float32Array, to: Float32Array, { start, stride, count }: Line, radius: number): void {
  let sum = 0;
  let n = 0;
  for (let j = 0; j < Math.min(count, radius); j++) {
    sum += from[start + j * stride];
    n++;
  }
  for (let i = 0; i < count; i++) {
    if (i + radius < count) {
      sum += from[start + (i + radius) * stride];
      n++;
    }
    to[start + i * stride] = sum / n;
    if (i - radius >= 0) {
      sum -= from[start + (i - radius) * stride];
      n--;
    }
  }
}

/** Full-size px that a stroke can change or needs to look at. */
export function strokeBounds(settings: BrushSettings, points: readonly StrokePoint[]): Rect {
  const reach = settings.size / 2 + 2 + (settings.mode === 'smooth' ? settings.size / 2 + 4 : 0);
  const xs = points.map((p) => p.x);
  const ys = points.map((p) => p.y);
  return {
    left: Math.min(...xs) - reach,
    top: Math.min(...ys) - reach,
    right: Math.max(...xs) + reach,
    bottom: Math.max(...ys) + reach,
  };
}
