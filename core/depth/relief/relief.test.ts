import { pictureOf, type DepthMap } from '../../raster/picture';
import { ReliefView } from './reliefView';
import { renderRelief } from './renderRelief';

const WIDTH = 80;
const HEIGHT = 50;
const size = { width: WIDTH, height: HEIGHT };
const FRONT = { turnedDeg: 0, tippedDeg: 0, stretch: 1 };
const mapOf = (f: (x: number, y: number) => number): DepthMap => ({
  ...size,
  data: Uint16Array.from({ length: WIDTH * HEIGHT }, (_, i) => f(i % WIDTH, Math.floor(i / WIDTH)) * 65535),
});
/** Red from left to right, green from top to bottom. */
const picture = pictureOf(
  size,
  Uint8Array.from({ length: WIDTH * HEIGHT * 4 }, (_, k) => {
    const i = k >> 2;
    return [(i % WIDTH) * 3, Math.floor(i / WIDTH) * 5, 40, 255][k & 3];
  }),
  'straight',
);

describe('the view', () => {
  test('keeps the box within the picture from any side, and fills it', () => {
    for (const turnedDeg of [-80, -30, 0, 38, 75])
      for (const tippedDeg of [-40, 0, 16, 60]) {
        const corners = new ReliefView(size, { turnedDeg, tippedDeg, stretch: 1.5 }).corners();
        const xs = corners.map((c) => c.x);
        const ys = corners.map((c) => c.y);
        expect(Math.min(...xs)).toBeGreaterThanOrEqual(-1e-9);
        expect(Math.max(...xs)).toBeLessThanOrEqual(WIDTH + 1e-9);
        expect(Math.min(...ys)).toBeGreaterThanOrEqual(-1e-9);
        expect(Math.max(...ys)).toBeLessThanOrEqual(HEIGHT + 1e-9);
        const fills = Math.max(
          (Math.max(...xs) - Math.min(...xs)) / WIDTH,
          (Math.max(...ys) - Math.min(...ys)) / HEIGHT,
        );
        expect(fills).toBeCloseTo(0.94, 6);
      }
  });

  test('is a pinhole’s: from the front what is nearer is larger, by one over its distance', () => {
    const view = new ReliefView(size, FRONT);
    const wide = (depth: number): number => view.place(WIDTH, 25, depth).x - view.place(0, 25, depth).x;
    // The eye stands 2.5 of the longer side away, the box is .6 of it thick.
    expect(wide(1) / wide(0)).toBeCloseTo((2.5 + 0.3) / (2.5 - 0.3), 6);
    expect(view.place(40, 25, 0.7).x).toBeCloseTo(40, 6);
    expect(view.place(40, 25, 0.7).y).toBeCloseTo(25, 6);
  });

  test('turned to the right its left side comes nearer, and tipped it is seen from above', () => {
    const turned = new ReliefView(size, { ...FRONT, turnedDeg: 30 });
    expect(turned.place(0, 25, 0.5).z).toBeGreaterThan(turned.place(WIDTH, 25, 0.5).z);
    const tipped = new ReliefView(size, { ...FRONT, tippedDeg: 30 });
    // From above, what is near lies lower.
    expect(tipped.place(40, 25, 1).y).toBeGreaterThan(tipped.place(40, 25, 0).y);
  });
});

describe('the surface', () => {
  const flat = mapOf(() => 0.5);
  const at = (out: Uint8ClampedArray, x: number, y: number): number[] => [
    ...out.subarray(4 * (y * WIDTH + x), 4 * (y * WIDTH + x) + 4),
  ];

  test('a flat map from the front is the picture, smaller by what the box needs', () => {
    const out = renderRelief(picture, flat, FRONT, 1);
    const view = new ReliefView(size, FRONT);
    for (const [x, y] of [
      [12, 9],
      [40, 25],
      [70, 44],
    ]) {
      const seen = view.place(x + 0.5, y + 0.5, 0.5);
      const [r, g, , a] = at(out, Math.floor(seen.x), Math.floor(seen.y));
      // A facet has the colour of its first corner: one px to the left and above at most, and where it falls half of
      // one.
      expect(Math.abs(r - 3 * x)).toBeLessThanOrEqual(5);
      expect(Math.abs(g - 5 * y)).toBeLessThanOrEqual(8);
      expect(a).toBe(255);
    }
    expect(at(out, 0, 0)[3]).toBe(0);
  });

  test('it has no holes, turned or not, at any step', () => {
    for (const step of [1, 2, 3]) {
      const out = renderRelief(picture, flat, { turnedDeg: 25, tippedDeg: 10, stretch: 1 }, step);
      for (let y = 0; y < HEIGHT; y++) {
        const row = Array.from({ length: WIDTH }, (_, x) => at(out, x, y)[3]);
        const first = row.indexOf(255);
        if (first >= 0) expect(row.slice(first, row.lastIndexOf(255) + 1)).not.toContain(0);
      }
    }
  });

  test('what is nearer hides what is behind it, and a jump is drawn as stretched', () => {
    const step = mapOf((x) => (x < 30 ? 0.9 : 0.1));
    const pose = { turnedDeg: 40, tippedDeg: 0, stretch: 1 };
    const view = new ReliefView(size, pose);
    const out = renderRelief(picture, step, pose, 1);
    const edge = view.place(20.5, 25.5, 0.9);
    // Here the near half lies before the far one: its colour is seen.
    expect(Math.abs(at(out, Math.floor(edge.x), Math.floor(edge.y))[0] - 60)).toBeLessThanOrEqual(8);
    const out2 = renderRelief(picture, step, { ...pose, turnedDeg: -40 }, 1);
    const wall = new ReliefView(size, { ...pose, turnedDeg: -40 }).place(29.95, 25.5, 0.5);
    const [, , blue] = at(out2, Math.floor(wall.x), Math.floor(wall.y));
    expect(blue).toBeGreaterThan(60);
  });
});
