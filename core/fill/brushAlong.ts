import type { Point, Rect } from '../raster/geometry';

/**
 * How strongly a round brush drawn along a path covers each pixel of a window, 0 to 255: full up to its hardness, from
 * there fading to its edge. Raster px.
 */
export function brushAlong(
  path: readonly Point[],
  { radius, hardness, strength }: { readonly radius: number; readonly hardness: number; readonly strength: number },
  { left, top, right, bottom }: Rect,
): Uint8Array {
  const w = right - left;
  const mask = new Uint8Array(w * (bottom - top));
  path.forEach((b, n) => {
    const a = path[Math.max(0, n - 1)];
    const dx = b.x - a.x;
    const dy = b.y - a.y;
    const length2 = dx * dx + dy * dy;
    for (
      let y = Math.max(top, Math.floor(Math.min(a.y, b.y) - radius));
      y <= Math.min(bottom - 1, Math.max(a.y, b.y) + radius);
      y++
    ) {
      for (
        let x = Math.max(left, Math.floor(Math.min(a.x, b.x) - radius));
        x <= Math.min(right - 1, Math.max(a.x, b.x) + radius);
        x++
      ) {
        const px = x + 0.5 - a.x;
        const py = y + 0.5 - a.y;
        const t = length2 > 0 ? Math.min(1, Math.max(0, (px * dx + py * dy) / length2)) : 0;
        const far = Math.hypot(px - t * dx, py - t * dy) / radius;
        if (far > 1) continue;
        const soft = far <= hardness ? 1 : (1 - far) / Math.max(1e-6, 1 - hardness);
        const v = Math.round(255 * strength * soft * soft * (3 - 2 * soft));
        const i = (y - top) * w + x - left;
        if (v > mask[i]) mask[i] = v;
      }
    }
  });
  return mask;
}
