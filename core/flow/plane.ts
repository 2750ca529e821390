import type { Size } from '../kind';

/** One channel of a frame, one value a pixel. */
export interface Plane extends Size {
  readonly data: Float32Array;
}

/** A plane at half its size: the mean over two by two; an odd border is left out. */
export function halfOf({ width, height, data }: Plane): Plane {
  const [w, h] = [width >> 1, height >> 1];
  const out = new Float32Array(w * h);
  for (let y = 0, o = 0; y < h; y++)
    for (let x = 0, i = 2 * y * width; x < w; x++, i += 2, o++)
      out[o] = (data[i] + data[i + 1] + data[i + width] + data[i + width + 1]) / 4;
  return { width: w, height: h, data: out };
}

/** A value between pixels, bilinear; beyond the plane its outermost pixels. */
export function sampledAt({ width, height, data }: Plane, x: number, y: number): number {
  const u = Math.min(width - 1, Math.max(0, x));
  const v = Math.min(height - 1, Math.max(0, y));
  const x0 = u | 0;
  const y0 = v | 0;
  const i = y0 * width + x0;
  const right = x0 < width - 1 ? 1 : 0;
  const below = y0 < height - 1 ? width : 0;
  const a = data[i] + (u - x0) * (data[i + right] - data[i]);
  const b = data[i + below] + (u - x0) * (data[i + below + right] - data[i + below]);
  return a + (v - y0) * (b - a);
}
