import type { Mask } from '../raster/picture';
import { simplifyPath } from '../raster/simplify';

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

/** A ring with fewer corners: none that is left out lies farther than `tolerance` px from the line that replaces it. */
export function simplifyRing(ring: readonly RingPoint[], tolerance: number): RingPoint[] {
  if (ring.length < 5) return ring.slice();
  // Two paths between its first corner and the one farthest from that.
  let far = 0;
  let best = -1;
  ring.forEach((p, n) => {
    const d = Math.hypot(p.x - ring[0].x, p.y - ring[0].y);
    if (d > best) {
      best = d;
      far = n;
    }
  });
  const there = simplifyPath(ring.slice(0, far + 1), tolerance);
  const back = simplifyPath([...ring.slice(far), ring[0]], tolerance);
  return [...there, ...back.slice(1, -1)];
}
