import type { Picture } from '../raster/picture';

/** A picture's colour between its pixels, linear; beyond the border its outermost pixels. Pixel centres lie at half px. */
export function sampleAt({ width, height, data }: Picture, x: number, y: number, out: Float32Array): void {
  const u = Math.min(width - 1, Math.max(0, x - 0.5)),
    v = Math.min(height - 1, Math.max(0, y - 0.5)),
    x0 = Math.floor(u),
    y0 = Math.floor(v),
    x1 = Math.min(width - 1, x0 + 1),
    y1 = Math.min(height - 1, y0 + 1),
    fx = u - x0,
    fy = v - y0;
  const a = (y0 * width + x0) * 4,
    b = (y0 * width + x1) * 4,
    p = (y1 * width + x0) * 4,
    q = (y1 * width + x1) * 4;
  for (let c = 0; c < 4; c++)
    out[c] = (data[a + c] * (1 - fx) + data[b + c] * fx) * (1 - fy) + (data[p + c] * (1 - fx) + data[q + c] * fx) * fy;
}
