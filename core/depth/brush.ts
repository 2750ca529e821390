import { clipRect, moveRect, unionRect, type Rect } from '../raster/geometry';
import type { DepthMap } from '../raster/picture';
import { takeRect } from '../raster/rows';
import type { DepthWindow } from './window';

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

/** How a stroke is painted. */
export interface BrushOptions {
  /** What it can touch, window px. @default all of the window */
  readonly part?: Rect;
  /** Where it keeps what it knows; one stroke at a time. @default room of its own */
  readonly room?: BrushRoom;
}

/**
 * Room for the depth before a stroke and its coverage, kept from stroke to stroke: whoever paints strokes all day has
 * the garbage collector at work for fresh room of each.
 */
export class BrushRoom {
  private base = new Uint16Array(0);
  private coverage = new Uint16Array(0);

  /** So many values of both; the coverage is 0. */
  take(count: number): { readonly base: Uint16Array; readonly coverage: Uint16Array } {
    if (this.base.length < count) {
      this.base = new Uint16Array(count);
      this.coverage = new Uint16Array(count);
    }
    return { base: this.base.subarray(0, count), coverage: this.coverage.subarray(0, count).fill(0) };
  }
}

/**
 * One stroke being painted into a window. A pixel's coverage is the largest along the path, so a stroke that crosses itself
 * does not build up, and the result does not depend on how the points were bundled.
 */
export class BrushStroke {
  /** The depth before the stroke and its coverage, of the part of the window that it can touch. */
  private readonly base: DepthMap;
  private readonly coverage: Uint16Array;
  private softened: Float32Array | undefined;
  private last: StrokePoint | undefined;
  private readonly part: Rect;

  constructor(
    private readonly window: DepthWindow,
    private readonly settings: BrushSettings,
    { part, room = new BrushRoom() }: BrushOptions = {},
  ) {
    this.part = part ?? { left: 0, top: 0, right: window.width, bottom: window.height };
    const width = this.part.right - this.part.left;
    const height = this.part.bottom - this.part.top;
    const { base, coverage } = room.take(width * height);
    takeRect(window.data, base, this.part, { width: window.width, samples: 1 });
    this.base = { width, height, data: base };
    this.coverage = coverage;
  }

  /** Paints on to the given points, in place. Returns what changed, in window px. */
  add(points: readonly StrokePoint[]): Rect | undefined {
    let changed: Rect | undefined;
    for (const point of points) {
      const rect = this.segment(this.last ?? point, point);
      if (rect) changed = unionRect(changed, rect);
      this.last = point;
    }
    if (!changed) return undefined;
    this.apply(changed);
    return moveRect(changed, this.part.left, this.part.top);
  }

  /** Raises the coverage along the capsule from a to b. @returns what it may have changed, in px of the part */
  private segment(a: StrokePoint, b: StrokePoint): Rect | undefined {
    const { scale } = this.window;
    const { width, height } = this.base;
    const left = this.window.left + this.part.left / scale;
    const top = this.window.top + this.part.top / scale;
    const { size, hardness, strength, pressure } = this.settings;
    const radiusOf = (p: StrokePoint): number =>
      Math.max(0.5, (size / 2) * scale * (pressure === 'size' ? p.pressure : 1));
    const flowOf = (p: StrokePoint): number => strength * (pressure === 'strength' ? p.pressure : 1) * 65535;
    // Pixel (i, j) of the part has its centre at i + 0.5; full-size points likewise.
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
    const goesOn = this.last !== undefined && pressure === 'none';
    // Where the coverage is as high already as this piece can raise it, nothing is worked out: pieces of a stroke lie
    // over one another.
    const peak = Math.round(Math.max(fa, fb));
    // How far along the piece a pixel lies (0 at a, 1 at b) grows by tx from pixel to pixel and by ty from row to row.
    const tx = length2 > 0 ? dx / length2 : 0;
    const ty = length2 > 0 ? dy / length2 : 0;
    for (let y = rect.top; y < rect.bottom; y++) {
      const py = y + 0.5 - ay;
      const begin = length2 > 0 ? py * ty : 1;
      for (let i = y * width + rect.left, px = rect.left + 0.5 - ax; i < y * width + rect.right; i++, px++) {
        const was = coverage[i];
        if (was >= peak) continue;
        let t = begin + px * tx;
        if (t <= 0) {
          // What lies nearest to where the piece begins was raised as high by the end of the piece before.
          if (goesOn) continue;
          t = 0;
        } else if (t > 1) t = 1;
        const ex = px - t * dx;
        const ey = py - t * dy;
        const radius = ra + (rb - ra) * t;
        const distance2 = ex * ex + ey * ey;
        const rim = radius + 0.5;
        if (distance2 >= rim * rim) continue;
        const value = (shareAt(distance2, radius, radius * (1 - hardness)) * (fa + (fb - fa) * t) + 0.5) | 0;
        if (value > was) coverage[i] = value;
      }
    }
    return rect;
  }

  /** Sets the depth from the base and the coverage. @param rect in px of the part */
  private apply(rect: Rect): void {
    const {
      window: { width, data },
      part: { left, top },
      base,
      coverage,
      settings: { mode, depth },
    } = this;
    const target = depth * 65535;
    const softened = mode === 'smooth' ? (this.softened ??= this.soften()) : undefined;
    for (let y = rect.top; y < rect.bottom; y++) {
      const shift = (top + y) * width + left - y * base.width;
      for (let i = y * base.width + rect.left; i < y * base.width + rect.right; i++) {
        const c = coverage[i] / 65535;
        if (c === 0) continue;
        const was = base.data[i];
        let change = target;
        if (mode === 'set') change = target - was;
        else if (mode === 'farther') change = -target;
        else if (softened) change = softened[i] - was;
        const value = was + change * c;
        if (value <= 0) data[i + shift] = 0;
        else data[i + shift] = value >= 65535 ? 65535 : (value + 0.5) | 0;
      }
    }
  }

  /** The base after two box blurs of a quarter of the brush's radius. */
  private soften(): Float32Array {
    const { width, height, data } = this.base;
    const { scale } = this.window;
    const radius = Math.max(1, Math.round((this.settings.size * scale) / 8));
    const from = Float32Array.from(data);
    const to = new Float32Array(from.length);
    for (let turn = 0; turn < 2; turn++) {
      for (let y = 0; y < height; y++) boxLine(from, to, { start: y * width, stride: 1, count: width }, radius);
      for (let x = 0; x < width; x++) boxLine(to, from, { start: x, stride: width, count: height }, radius);
    }
    return from;
  }
}

/**
 * How much of its flow a brush gives: all of it up to where it is soft, nothing at its rim, which is half a pixel
 * beyond its radius.
 * @param distance2 square of the distance from the stroke's middle line, px²
 * @param soft width of what fades, px
 */
function shareAt(distance2: number, radius: number, soft: number): number {
  const hard = radius - soft;
  if (soft > 0.5 && distance2 <= hard * hard) return 1;
  const distance = Math.sqrt(distance2);
  const edge = Math.min(1, radius + 0.5 - distance);
  if (soft <= 0.5) return edge;
  const s = Math.min(1, (distance - hard) / soft);
  return Math.min(edge, 1 - s * s * (3 - 2 * s));
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
