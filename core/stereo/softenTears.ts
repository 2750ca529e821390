import type { ColumnRange } from '../raster/geometry';
import { isDeep, type Mask, type Picture } from '../raster/picture';

/**
 * Softens the edges along which a view was torn open, in place: within `reach` px of a gap's two ends every pixel
 * becomes the mean of
 * its row's pixels that near, so that the nearer side fades into what was filled. Premultiplied where there is transparency.
 *
 * @param revealed the view's gaps, 255
 * @param reach px; less than half a px does nothing
 * @param columns of these alone @default all
 */
export function softenTears(view: Picture, revealed: Mask, reach: number, columns?: ColumnRange): void {
  const r = Math.round(reach);
  if (r < 1) return;
  const { width, height, data } = view;
  const { left, right } = columns ?? { left: 0, right: width };
  const mask = revealed.data;
  const row = isDeep(view) ? new Uint16Array(width * 4) : new Uint8Array(width * 4);
  const near = new Uint8Array(width);
  for (let y = 0; y < height; y++) {
    const start = y * width;
    near.fill(0);
    let any = false;
    for (let x = left + 1; x < right; x++) {
      if (mask[start + x] === mask[start + x - 1]) continue;
      any = true;
      near.fill(1, Math.max(left, x - r), Math.min(right, x + r));
    }
    if (!any) continue;
    row.set(data.subarray(start * 4, (start + width) * 4));
    for (let x = left; x < right; x++) {
      if (!near[x]) continue;
      const a = Math.max(left, x - r);
      const b = Math.min(right - 1, x + r);
      for (let c = 0; c < 4; c++) {
        let sum = 0;
        for (let u = a; u <= b; u++) sum += row[u * 4 + c];
        data[(start + x) * 4 + c] = Math.round(sum / (b - a + 1));
      }
    }
  }
}
