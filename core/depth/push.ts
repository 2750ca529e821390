import type { DepthMap } from '../raster/picture';
import { sampledAt } from '../raster/sampledAt';
import { brushShare } from './brushShare';

/**
 * A place of the pen in px of the map, how far the brush reaches there, and how much of its way depth goes along, 0
 * to 1.
 */
interface PushPlace {
  readonly x: number;
  readonly y: number;
  readonly radius: number;
  readonly flow: number;
}

/** A step of the pen is so small a part of the brush's radius. */
const STEP = 1 / 6;

/**
 * Depth that is carried along with the brush. What is kept is from where each pixel's depth was carried, so that it is
 * taken from the map once, however long the stroke: edges stay as sharp as they were.
 */
export class Push {
  /** From where a pixel's depth was carried, px from its own place. */
  private readonly dx: Float32Array;
  private readonly dy: Float32Array;

  constructor(private readonly map: DepthMap) {
    this.dx = new Float32Array(map.data.length);
    this.dy = new Float32Array(map.data.length);
  }

  /**
   * Carries what lies under the brush along a straight piece. @param hardness share of the radius that goes along in
   * full
   */
  along(a: PushPlace, b: PushPlace, hardness: number): void {
    const length = Math.hypot(b.x - a.x, b.y - a.y);
    const steps = Math.ceil(length / Math.max(0.25, Math.max(a.radius, b.radius) * STEP));
    for (let n = 0; n < steps; n++) {
      const t = (n + 0.5) / steps;
      this.carry(
        {
          x: a.x + t * (b.x - a.x),
          y: a.y + t * (b.y - a.y),
          radius: a.radius + t * (b.radius - a.radius),
          flow: a.flow + t * (b.flow - a.flow),
        },
        { x: (b.x - a.x) / steps, y: (b.y - a.y) / steps },
        hardness,
      );
    }
  }

  /** The depth that was carried to a pixel, 0 to 65535. */
  at(i: number): number {
    const { width } = this.map;
    return sampledAt(this.map, (i % width) + this.dx[i], Math.floor(i / width) + this.dy[i]);
  }

  private carry({ x, y, radius, flow }: PushPlace, by: { x: number; y: number }, hardness: number): void {
    const { width, height } = this.map;
    const left = Math.max(0, Math.floor(x - radius - 1));
    const right = Math.min(width, Math.ceil(x + radius + 1));
    const top = Math.max(0, Math.floor(y - radius - 1));
    const bottom = Math.min(height, Math.ceil(y + radius + 1));
    if (left >= right || top >= bottom) return;
    const across = right - left;
    const fresh = new Float32Array(2 * across * (bottom - top));
    const dx = { width, height, data: this.dx };
    const dy = { width, height, data: this.dy };
    for (let py = top, n = 0; py < bottom; py++)
      for (let px = left; px < right; px++, n += 2) {
        const distance2 = (px + 0.5 - x) ** 2 + (py + 0.5 - y) ** 2;
        const rim = radius + 0.5;
        const share = distance2 < rim * rim ? flow * brushShare(distance2, radius, radius * (1 - hardness)) : 0;
        const fromX = -share * by.x;
        const fromY = -share * by.y;
        fresh[n] = fromX + sampledAt(dx, px + fromX, py + fromY);
        fresh[n + 1] = fromY + sampledAt(dy, px + fromX, py + fromY);
      }
    for (let py = top, n = 0; py < bottom; py++)
      for (let i = py * width + left; i < py * width + right; i++, n += 2) {
        this.dx[i] = fresh[n];
        this.dy[i] = fresh[n + 1];
      }
  }
}
