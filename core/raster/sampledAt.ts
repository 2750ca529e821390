import type { Size } from '../kind';

/** A value between pixels, bilinear; beyond the plane its outermost pixels. */
export function sampledAt(
  { width, height, data }: Size & { readonly data: Float32Array | Uint16Array },
  x: number,
  y: number,
): number {
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
