import { simplifyPath } from './simplify';

describe('a path with fewer corners', () => {
  test('keeps its ends and every corner that lies farther away than the tolerance', () => {
    const path = [0, 1, 2, 3, 4].map((x) => ({ x, y: x === 2 ? 1 : 0 }));
    expect(simplifyPath(path, 1.01)).toEqual([path[0], path[4]]);
    expect(simplifyPath(path, 0.4)).toEqual(path);
    expect(simplifyPath(path, 0.99)).toContain(path[2]);
  });

  test('a circle drawn by many points stays within the tolerance of each', () => {
    const ring = Array.from({ length: 201 }, (_, n) => {
      const a = (n / 200) * 1.9 * Math.PI;
      return { x: 50 * Math.cos(a), y: 50 * Math.sin(a) };
    });
    const few = simplifyPath(ring, 0.5);
    expect(few.length).toBeLessThan(40);
    const away = ring.map((p) =>
      Math.min(
        ...few.slice(1).map((b, n) => {
          const a = few[n];
          const [dx, dy] = [b.x - a.x, b.y - a.y];
          const t = Math.min(1, Math.max(0, ((p.x - a.x) * dx + (p.y - a.y) * dy) / (dx * dx + dy * dy)));
          return Math.hypot(p.x - a.x - t * dx, p.y - a.y - t * dy);
        }),
      ),
    );
    expect(Math.max(...away)).toBeLessThanOrEqual(0.5);
  });

  test('two points, or none, stay', () => {
    expect(simplifyPath([], 1)).toEqual([]);
    expect(simplifyPath([{ x: 1, y: 1 }], 1)).toEqual([{ x: 1, y: 1 }]);
  });
});
