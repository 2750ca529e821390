import type { Mask } from '../raster/picture';

export interface RingPoint {
  readonly x: number;
  readonly y: number;
}

/**
 * The borders of a mask's covered parts (128 and more) as closed rings along the pixels' edges, px; holes are rings of their own,
 * so that the even-odd rule gives the mask back exactly.
 */
export function traceRings({ width, height, data }: Mask): RingPoint[][] {
  const inside = (x: number, y: number): boolean =>
    x >= 0 && y >= 0 && x < width && y < height && data[y * width + x] >= 128;
  // Directions: 0 right, 1 down, 2 left, 3 up; walking so that the inside lies at the right hand.
  const DX = [1, 0, -1, 0];
  const DY = [0, 1, 0, -1];
  const w1 = width + 1;
  const used = new Uint8Array(w1 * (height + 1));
  const rings: RingPoint[][] = [];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      // A ring begins at an upper edge that has not been walked yet.
      if (!inside(x, y) || inside(x, y - 1) || used[y * w1 + x] & 1) continue;
      const ring: RingPoint[] = [];
      let px = x;
      let py = y;
      let direction = 0;
      do {
        used[py * w1 + px] |= 1 << direction;
        const before = direction;
        px += DX[direction];
        py += DY[direction];
        // At each crossing turn right where the inside ends there, left where it goes on: pixels that touch by a
        // corner stay apart.
        const ahead = (turn: number): boolean => edgeRuns(inside, px, py, (before + turn + 4) % 4);
        let turn = 3;
        if (ahead(1)) turn = 1;
        else if (ahead(0)) turn = 0;
        direction = (before + turn) % 4;
        if (direction !== before) ring.push({ x: px, y: py });
      } while (px !== x || py !== y || direction !== 0);
      rings.push(ring);
    }
  }
  return rings;
}

/** True where an edge with the inside at its right hand leaves the corner (x, y) in a direction. */
function edgeRuns(inside: (x: number, y: number) => boolean, x: number, y: number, direction: number): boolean {
  switch (direction) {
    case 0:
      return inside(x, y) && !inside(x, y - 1);
    case 1:
      return inside(x - 1, y) && !inside(x, y);
    case 2:
      return inside(x - 1, y - 1) && !inside(x - 1, y);
    default:
      return inside(x, y - 1) && !inside(x - 1, y - 1);
  }
}

/**
 * A ring with fewer corners: none that is left out lies farther than `tolerance` px from the line that replaces it.
 *
 * Source: Douglas and Peucker, "Algorithms for the reduction of the number of points required to represent a digitized
 * line or its
 * caricature", Cartographica 10(2), 1973, from the ring's two most distant corners on.
 */
export function simplifyRing(ring: readonly RingPoint[], tolerance: number): RingPoint[] {
  if (ring.length < 5) return ring.slice();
  let far = 0;
  let best = -1;
  ring.forEach((p, n) => {
    const d = Math.hypot(p.x - ring[0].x, p.y - ring[0].y);
    if (d > best) {
      best = d;
      far = n;
    }
  });
  const keep = new Uint8Array(ring.length);
  keep[0] = keep[far] = 1;
  const spans: [number, number][] = [
    [0, far],
    [far, ring.length],
  ];
  while (spans.length > 0) {
    const [a, b] = spans.pop()!;
    const p = ring[a];
    const q = ring[b % ring.length];
    const dx = q.x - p.x;
    const dy = q.y - p.y;
    const length2 = dx * dx + dy * dy;
    let worst = tolerance;
    let at = -1;
    for (let n = a + 1; n < b; n++) {
      const ex = ring[n].x - p.x;
      const ey = ring[n].y - p.y;
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
  return ring.filter((_, n) => keep[n] === 1);
}
