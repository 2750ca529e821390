import { clipRect, moveRect, unionRect, type Rect } from '../raster/geometry';
import type { DepthMap } from '../raster/picture';
import { takeRect } from '../raster/rows';
import { brushShare } from './brushShare';
import { EdgeStop } from './edgeStop';
import { leafNoise } from './leafNoise';
import { Push } from './push';
import { softened } from './softened';
import type { DepthWindow } from './window';

/** One sample of the pen, full-size px; pressure 0 to 1. */
export interface StrokePoint {
  readonly x: number;
  readonly y: number;
  readonly pressure: number;
}

export const BRUSH_MODES = ['set', 'nearer', 'farther', 'smooth', 'push', 'uneven'] as const;

/** How the depth brush works. */
export interface BrushSettings {
  /**
   * set: towards `depth`; nearer, farther, uneven: by `depth`; smooth: towards the local mean; push: depth is carried
   * along.
   */
  readonly mode: (typeof BRUSH_MODES)[number];
  /** 0 farthest to 1 nearest; for nearer, farther and uneven the largest change. */
  readonly depth: number;
  /** Diameter, full-size px. */
  readonly size: number;
  /** Share of the radius that works in full, 0 to 1; beyond it the brush fades. */
  readonly hardness: number;
  /** 0 to 1. */
  readonly strength: number;
  /** What the pen's pressure changes. */
  readonly pressure: 'none' | 'strength' | 'size';
  /** So large a difference of colour stops the paint, 8-bit steps over three channels. @default 0, nothing stops it */
  readonly edge?: number | undefined;
  /** How far apart the bumps of uneven depth lie, full-size px. @default 24 */
  readonly grain?: number | undefined;
}

/** True for strokes that make a pixel's depth of what lies around it. */
export const looksAround = ({ mode, edge = 0 }: BrushSettings): boolean =>
  mode === 'smooth' || mode === 'push' || edge > 0;

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
 * One stroke being painted into a window. A pixel's coverage is the largest along the path, so a stroke that crosses
 * itself
 * does not build up, and the result does not depend on how the points were bundled.
 */
export class BrushStroke {
  /** The depth before the stroke and its coverage, of the part of the window that it can touch. */
  private readonly base: DepthMap;
  private readonly coverage: Uint16Array;
  private soft: Float32Array | undefined;
  private last: StrokePoint | undefined;
  private readonly stop: EdgeStop | undefined;
  private readonly push: Push | undefined;
  private readonly colours: Uint8Array | undefined;
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
    const { edge = 0 } = settings;
    if (edge > 0 && window.colours) {
      this.colours = new Uint8Array(width * height * 4);
      takeRect(window.colours, this.colours, this.part, { width: window.width, samples: 4 });
      this.stop = new EdgeStop(this.base, this.colours, coverage, edge);
    }
    if (settings.mode === 'push') this.push = new Push(this.base);
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
    const run = this.stop?.run();
    if (run) changed = unionRect(changed, run);
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
    const { coverage, stop } = this;
    this.push?.along(
      { x: ax, y: ay, radius: ra, flow: fa / 65535 },
      { x: bx, y: by, radius: rb, flow: fb / 65535 },
      hardness,
    );
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
        if (was >= peak && !stop) continue;
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
        const value = (brushShare(distance2, radius, radius * (1 - hardness)) * (fa + (fb - fa) * t) + 0.5) | 0;
        if (stop && distance2 <= 1) stop.seed(i);
        if (value <= was) continue;
        coverage[i] = value;
        if (stop && was === 0) stop.open(i);
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
      stop,
    } = this;
    const target = this.targetOf();
    for (let y = rect.top; y < rect.bottom; y++) {
      const shift = (top + y) * width + left - y * base.width;
      for (let i = y * base.width + rect.left; i < y * base.width + rect.right; i++) {
        if (coverage[i] === 0) continue;
        const c = (coverage[i] / 65535) * (stop ? stop.share(i) : 1);
        const value = base.data[i] + target(i, base.data[i]) * c;
        if (value <= 0) data[i + shift] = 0;
        else data[i + shift] = value >= 65535 ? 65535 : (value + 0.5) | 0;
      }
    }
  }

  /** By how much a pixel of the part changes where it is fully covered. */
  private targetOf(): (i: number, was: number) => number {
    const { mode, depth, grain = 24, size } = this.settings;
    const by = depth * 65535;
    const { scale, left, top } = this.window;
    switch (mode) {
      case 'set':
        return (_i, was) => by - was;
      case 'nearer':
        return () => by;
      case 'farther':
        return () => -by;
      case 'smooth': {
        const soft = (this.soft ??= softened(this.base, (size * scale) / 8, this.colours));
        return (i, was) => soft[i] - was;
      }
      case 'push':
        // How far it was pushed has the brush's softness and strength in it.
        return (i, was) => (this.push!.at(i) - was) * (65535 / this.coverage[i]);
      case 'uneven': {
        const { width } = this.base;
        return (i) =>
          by *
          leafNoise(
            ((i % width) + this.part.left + 0.5) / scale + left,
            (Math.floor(i / width) + this.part.top + 0.5) / scale + top,
            grain,
          );
      }
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
