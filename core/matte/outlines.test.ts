import { seeded } from '@/tests/support/chance';
import type { Mask, Picture8 } from '../raster/picture';
import { curveAt, flattenCurve, splitCurve, type CurveNode } from './curve';
import { EdgeTrace } from './edgeTrace';
import { drawOutline, drawRings } from './outline';
import { simplifyRing, traceRings } from './rings';

const area = (m: Mask): number => m.data.reduce((a, v) => a + v, 0) / 255;
/** Four quarter arcs with the usual handles: 4/3 (sqrt 2 - 1) of the radius; at most 0.027 % off a circle (Goldapp 1991). */
const circle = (cx: number, cy: number, r: number): CurveNode[] => {
  const k = (4 / 3) * (Math.SQRT2 - 1) * r;
  return [
    [1, 0],
    [0, 1],
    [-1, 0],
    [0, -1],
  ].map(([x, y]) => ({
    x: cx + r * x,
    y: cy + r * y,
    inX: cx + r * x + k * y,
    inY: cy + r * y - k * x,
    outX: cx + r * x - k * y,
    outY: cy + r * y + k * x,
  }));
};

describe('Bezier outlines', () => {
  test('a circle of four nodes has a circle’s area', () => {
    // Chords lie at most 0.1 px inside: the area is short of pi r² by no more than 0.1 px along the edge, plus 8-bit rounding.
    const found = area(drawOutline(200, 200, flattenCurve(circle(100, 100, 80))));
    expect(found).toBeLessThan(Math.PI * 6400 * 1.0006);
    expect(found).toBeGreaterThan(Math.PI * 6400 - 0.1 * 2 * Math.PI * 80);
  });
  test('no chord is farther from the curve than a tenth of a px', () => {
    const nodes: CurveNode[] = [
      { x: 0, y: 0, inX: -40, inY: 90, outX: 260, outY: -50 },
      { x: 100, y: 200, inX: 300, inY: 300, outX: -50, outY: 120 },
    ];
    const flat = flattenCurve(nodes);
    for (let k = 0; k <= 500; k++) {
      const p = curveAt(nodes[0], nodes[1], k / 500);
      let best = Infinity;
      flat.forEach((a, n) => {
        const b = flat[(n + 1) % flat.length];
        const dx = b.x - a.x;
        const dy = b.y - a.y;
        const t = Math.min(1, Math.max(0, ((p.x - a.x) * dx + (p.y - a.y) * dy) / (dx * dx + dy * dy)));
        best = Math.min(best, Math.hypot(p.x - a.x - t * dx, p.y - a.y - t * dy));
      });
      expect(best).toBeLessThanOrEqual(0.1);
    }
  });
  test('a node that is added leaves the shape as it was', () => {
    const nodes = circle(50, 50, 30);
    const more = splitCurve(nodes, 3, 0.3);
    expect(more).toHaveLength(5);
    for (const t of [0.1, 0.5, 0.9]) {
      const before = curveAt(nodes[3], nodes[0], t);
      const after = t < 0.3 ? curveAt(more[3], more[4], t / 0.3) : curveAt(more[4], more[0], (t - 0.3) / 0.7);
      expect(Math.hypot(before.x - after.x, before.y - after.y)).toBeLessThan(1e-9);
    }
  });
});

describe('rings of a mask', () => {
  test('give any mask back exactly by the even-odd rule', () => {
    const chance = seeded(5);
    for (let turn = 0; turn < 20; turn++) {
      const mask: Mask = {
        width: 17,
        height: 13,
        data: Uint8Array.from({ length: 221 }, () => (chance() < 0.55 ? 255 : 0)),
      };
      expect(drawRings(17, 13, traceRings(mask))).toEqual(mask);
    }
  });
  test('are simplified by no more than the tolerance', () => {
    const disc = drawOutline(120, 120, flattenCurve(circle(60, 60, 50)));
    const [ring] = traceRings(disc);
    const few = simplifyRing(ring, 0.8);
    expect(few.length).toBeLessThan(ring.length / 2);
    for (const p of ring) {
      let best = Infinity;
      few.forEach((a, n) => {
        const b = few[(n + 1) % few.length];
        const dx = b.x - a.x;
        const dy = b.y - a.y;
        const t = Math.min(1, Math.max(0, ((p.x - a.x) * dx + (p.y - a.y) * dy) / (dx * dx + dy * dy || 1)));
        best = Math.min(best, Math.hypot(p.x - a.x - t * dx, p.y - a.y - t * dy));
      });
      expect(best).toBeLessThanOrEqual(0.8);
    }
  });
});

describe('edge trace', () => {
  const size = 160;
  const disc: Picture8 = {
    bits: 8 as const,
    alpha: 'straight' as const,
    width: size,
    height: size,
    data: new Uint8Array(size * size * 4),
  };
  const chance = seeded(8);
  for (let i = 0; i < size * size; i++) {
    const inside = Math.hypot((i % size) + 0.5 - 80, Math.floor(i / size) + 0.5 - 80) < 50;
    const noise = Math.floor(chance() * 12);
    disc.data.set([inside ? 60 + noise : 120 + noise, inside ? 150 : 90 + noise, 100, 255], i * 4);
  }
  const on = (angle: number) => ({ x: 80 + 50 * Math.cos(angle), y: 80 + 50 * Math.sin(angle) });
  test('follows a noisy circle from one place on it to another, never leaving it by more than 2 px', () => {
    const trace = new EdgeTrace(disc);
    trace.begin(trace.snap(on(0.2), 4));
    for (const to of [1, 2.5]) {
      const path = trace.pathTo(trace.snap(on(to), 4));
      expect(Math.hypot(path[0].x - on(0.2).x, path[0].y - on(0.2).y)).toBeLessThan(4.5);
      for (const p of path) expect(Math.abs(Math.hypot(p.x - 80, p.y - 80) - 50)).toBeLessThan(2);
      // It goes round by the shorter arc: every step one pixel, none left out.
      for (let n = 1; n < path.length; n++)
        expect(Math.max(Math.abs(path[n].x - path[n - 1].x), Math.abs(path[n].y - path[n - 1].y))).toBe(1);
      expect(path.length).toBeLessThan(50 * (to - 0.2) * 1.3);
    }
  });
  test('a place outside is named', () => {
    expect(() => {
      new EdgeTrace(disc).begin({ x: -3, y: 5 });
    }).toThrow('(-3, 5) lies outside the picture of 160 × 160 px');
  });
});
