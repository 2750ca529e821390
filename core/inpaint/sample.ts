import type { Picture } from '../raster/picture';

/**
 * A picture's colour between its pixels, straight, linear; beyond the border its outermost pixels. Pixel centres lie
 * at half px.
 */
export function sampleAt(picture: Picture, x: number, y: number, out: Float32Array): void {
  const { width, height, data } = picture;
  const u = Math.min(width - 1, Math.max(0, x - 0.5));
  const v = Math.min(height - 1, Math.max(0, y - 0.5));
  const x0 = Math.floor(u);
  const y0 = Math.floor(v);
  const x1 = Math.min(width - 1, x0 + 1);
  const y1 = Math.min(height - 1, y0 + 1);
  const fx = u - x0;
  const fy = v - y0;
  const a = (y0 * width + x0) * 4;
  const b = (y0 * width + x1) * 4;
  const p = (y1 * width + x0) * 4;
  const q = (y1 * width + x1) * 4;
  for (let c = 0; c < 4; c++)
    out[c] = (data[a + c] * (1 - fx) + data[b + c] * fx) * (1 - fy) + (data[p + c] * (1 - fx) + data[q + c] * fx) * fy;
  const most = picture.bits === 16 ? 65535 : 255;
  if (picture.alpha === 'straight' || out[3] === 0 || out[3] === most) return;
  for (let c = 0; c < 3; c++) out[c] = Math.min(most, (out[c] * most) / out[3]);
}
