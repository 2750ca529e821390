import { isDeep, type Mask, type Premultiplied } from '../raster/picture';

/**
 * Lays a premultiplied picture over rows of another one, in place.
 * Source: "over", Porter and Duff, "Compositing digital images", SIGGRAPH 1984.
 * @param top the row of `under` on which the upper picture begins
 * @param revealed takes over what of the upper picture is revealed, and forgets what it covers
 */
export function over<P extends Premultiplied>(
  under: P,
  upper: P,
  top: number,
  revealed?: { readonly under: Mask; readonly upper: Mask },
): void {
  const a = upper.data;
  const b = under.data;
  const most = isDeep(upper) ? 65535 : 255;
  const shift = top * under.width;
  for (let i = 3, o = shift * 4 + 3, m = shift; i < a.length; i += 4, o += 4, m++) {
    const alpha = a[i];
    if (alpha === 0) continue;
    if (alpha === most) {
      b[o - 3] = a[i - 3];
      b[o - 2] = a[i - 2];
      b[o - 1] = a[i - 1];
      b[o] = most;
    } else {
      const keep = (most - alpha) / most;
      b[o - 3] = Math.min(most, a[i - 3] + Math.round(b[o - 3] * keep));
      b[o - 2] = Math.min(most, a[i - 2] + Math.round(b[o - 2] * keep));
      b[o - 1] = Math.min(most, a[i - 1] + Math.round(b[o - 1] * keep));
      b[o] = Math.min(most, alpha + Math.round(b[o] * keep));
    }
    if (revealed && alpha * 2 >= most) revealed.under.data[m] = revealed.upper.data[m - shift];
  }
}
