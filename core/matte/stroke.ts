import type { Point } from '../raster/geometry';
import type { Mask } from '../raster/picture';

/** Marks every pixel no farther than `radius` from a path with `value`. Raster px. */
export function drawStroke(
  { width, height, data: marks }: Mask,
  points: readonly Point[],
  { radius, value }: { readonly radius: number; readonly value: number },
): void {
  const r = Math.max(0.6, radius);
  points.forEach((b, n) => {
    const a = points[Math.max(0, n - 1)];
    const dx = b.x - a.x;
    const dy = b.y - a.y;
    const length2 = dx * dx + dy * dy;
    for (
      let y = Math.max(0, Math.floor(Math.min(a.y, b.y) - r));
      y <= Math.min(height - 1, Math.max(a.y, b.y) + r);
      y++
    ) {
      for (
        let x = Math.max(0, Math.floor(Math.min(a.x, b.x) - r));
        x <= Math.min(width - 1, Math.max(a.x, b.x) + r);
        x++
      ) {
        const px = x + 0.5 - a.x;
        const py = y + 0.5 - a.y;
        const t = length2 > 0 ? Math.min(1, Math.max(0, (px * dx + py * dy) / length2)) : 0;
        if ((px - t * dx) ** 2 + (py - t * dy) ** 2 <= r * r) marks[y * width + x] = value;
      }
    }
  });
}
