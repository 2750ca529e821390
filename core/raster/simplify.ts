import type { Point } from './geometry';

/**
 * A path with fewer corners: none that is left out lies farther than `tolerance` px from the line that replaces it;
 * both ends stay.
 *
 * Source: Douglas and Peucker, "Algorithms for the reduction of the number of points required to represent a digitized
 * line or its caricature", Cartographica 10(2), 1973.
 */
export function simplifyPath<P extends Point>(path: readonly P[], tolerance: number): P[] {
  if (path.length < 3) return path.slice();
  const keep = new Uint8Array(path.length);
  keep[0] = keep[path.length - 1] = 1;
  const spans: [number, number][] = [[0, path.length - 1]];
  while (spans.length > 0) {
    const [a, b] = spans.pop()!;
    const p = path[a];
    const dx = path[b].x - p.x;
    const dy = path[b].y - p.y;
    const length2 = dx * dx + dy * dy;
    let worst = tolerance;
    let at = -1;
    for (let n = a + 1; n < b; n++) {
      const ex = path[n].x - p.x;
      const ey = path[n].y - p.y;
      const t = length2 > 0 ? Math.min(1, Math.max(0, (ex * dx + ey * dy) / length2)) : 0;
      const d = Math.hypot(ex - t * dx, ey - t * dy);
      if (d > worst) {
        worst = d;
        at = n;
      }
    }
    if (at >= 0) {
      keep[at] = 1;
      spans.push([a, at], [at, b]);
    }
  }
  return path.filter((_, n) => keep[n] === 1);
}
