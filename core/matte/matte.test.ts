import { seeded } from '@/tests/support/chance';
import type { Mask, Picture8 } from '../raster/picture';
import { distanceTo } from '../raster/distance';
import { closedFormMatte } from './closedForm';
import { combine } from './combine';
import { depthSlice } from './depthSlice';
import { feather, invertMatte, offsetEdge, smoothEdge } from './edge';
import { cleanEdgeColour } from './edgeColour';
import { floodAt, floodTolerance } from './flood';
import { proposePieces } from '../raster/pieces';
import { RegionPaint } from './regionPaint';
import { STROKE_IN, STROKE_OUT } from './strokes';
import { countSpecks, dropSpecks, fillHoles } from './specks';
import { asTrimap, trimapOf, UNSURE } from './trimap';

const mask = (width: number, height: number, inside: (x: number, y: number) => boolean): Mask => ({
  width,
  height,
  data: Uint8Array.from({ length: width * height }, (_, i) => (inside(i % width, Math.floor(i / width)) ? 255 : 0)),
});
const picture = (width: number, height: number, colour: (x: number, y: number) => readonly number[]): Picture8 => {
  const data = new Uint8Array(width * height * 4);
  for (let i = 0; i < width * height; i++)
    data.set([...colour(i % width, Math.floor(i / width)), 255].slice(-4), i * 4);
  return { bits: 8 as const, alpha: 'straight' as const, width, height, data };
};
/** Sure out before one column, sure in after another, unsure between. */
const sides = (x: number, out: number, inside: number): number => {
  if (x < out) return 0;
  return x > inside ? 255 : UNSURE;
};
const area = (m: Mask): number => m.data.reduce((a, v) => a + v, 0) / 255;

describe('distance', () => {
  test('is that of the nearest pixel that is out, by trying all', () => {
    const chance = seeded(3);
    const m = mask(23, 17, () => chance() < 0.93);
    const d = distanceTo(m);
    for (let y = 0; y < 17; y++)
      for (let x = 0; x < 23; x++) {
        let best = Infinity;
        for (let v = 0; v < 17; v++)
          for (let u = 0; u < 23; u++) if (m.data[v * 23 + u] < 128) best = Math.min(best, Math.hypot(u - x, v - y));
        expect(d[y * 23 + x]).toBeCloseTo(best, 4);
      }
  });
  test('is infinite where nothing is out', () => {
    expect(distanceTo(mask(4, 3, () => true))).toEqual(new Float32Array(12).fill(Infinity));
  });
});

describe('edges', () => {
  const disc = mask(101, 101, (x, y) => Math.hypot(x - 50, y - 50) <= 20);
  test('offset moves a disc’s edge by its px: the area is that of the larger disc', () => {
    for (const px of [-6, -1.5, 2, 7.25])
      expect(Math.sqrt(area(offsetEdge(disc, px)) / Math.PI)).toBeCloseTo(Math.sqrt(area(disc) / Math.PI) + px, 0);
  });
  test('an offset outwards and back leaves an upright edge where it was', () => {
    const half = mask(40, 8, (x) => x < 20);
    expect(offsetEdge(offsetEdge(half, 5), -5)).toEqual(half);
    expect(offsetEdge(half, 0.5).data[20]).toBe(128);
  });
  test('an even or empty matte stays so', () => {
    expect(
      offsetEdge(
        mask(5, 5, () => true),
        -3,
      ),
    ).toEqual(mask(5, 5, () => true));
    expect(
      offsetEdge(
        mask(5, 5, () => false),
        3,
      ),
    ).toEqual(mask(5, 5, () => false));
  });
  test('smoothing takes steps away and keeps a straight edge sharp', () => {
    const saw = mask(60, 60, (x, y) => x < 30 + (y % 4 < 2 ? 2 : -2));
    const straight = mask(60, 60, (x) => x < 30);
    const out = smoothEdge(saw, 4);
    for (let y = 20; y < 40; y++) {
      expect(out.data[y * 60 + 27]).toBe(255);
      expect(out.data[y * 60 + 33]).toBe(0);
    }
    const kept = smoothEdge(straight, 4);
    for (let y = 0; y < 60; y++) {
      expect(kept.data[y * 60 + 28]).toBe(255);
      expect(kept.data[y * 60 + 31]).toBe(0);
    }
  });
  test('values out of range are named', () => {
    expect(() => offsetEdge(disc, 2000)).toThrow('The edge offset is 2000 px; it must lie between -1000 and 1000 px.');
    expect(() => feather(disc, -1)).toThrow('The feather is -1 px');
    expect(() => trimapOf(disc, 0)).toThrow('The width of the band is 0 px');
  });
  test('holes below a size are filled and specks dropped, larger ones stay', () => {
    const m = mask(
      30,
      30,
      (x, y) => (x < 20 && !(x === 5 && y === 5) && !(x > 9 && x < 14 && y > 9 && y < 14)) || (x === 25 && y === 25),
    );
    expect(area(fillHoles(m, 5))).toBe(area(m) + 1);
    expect(area(fillHoles(m, 17))).toBe(area(m) + 17);
    expect(area(dropSpecks(m, 2))).toBe(area(m) - 1);
    expect(countSpecks(m, 2)).toBe(1);
  });
  test('choices are added, taken away and intersected; inverted twice is the same', () => {
    const a = mask(4, 1, (x) => x < 2);
    const b = mask(4, 1, (x) => x === 1 || x === 2);
    expect([...combine(a, b, 'add').data]).toEqual([255, 255, 255, 0]);
    expect([...combine(a, b, 'take').data]).toEqual([255, 0, 0, 0]);
    expect([...combine(a, b, 'intersect').data]).toEqual([0, 255, 0, 0]);
    expect(invertMatte(invertMatte(a))).toEqual(a);
    expect(() =>
      combine(
        a,
        mask(3, 1, () => true),
        'add',
      ),
    ).toThrow('4 × 1 px');
  });
});

describe('flood', () => {
  // A stair of greys with a wall: the far side is reached only round its open end.
  const stairs = picture(40, 20, (x, y) => {
    const v = x === 20 && y < 18 ? 250 : x * 2;
    return [v, v, v];
  });
  test('needs the largest difference on the easiest way', () => {
    const needed = floodTolerance(stairs, { x: 0, y: 0 });
    expect(needed.data[10]).toBe(20);
    expect(needed.data[30]).toBe(60);
    expect(needed.data[20]).toBe(250);
    expect(area(floodAt(needed, 9))).toBe(5 * 20);
  });
  test('everywhere takes the same colour without a way to it', () => {
    const split = picture(9, 1, (x) => (x === 4 ? [255, 0, 0] : [10, 10, 10]));
    expect(area(floodAt(floodTolerance(split, { x: 0, y: 0 }), 5))).toBe(4);
    expect(area(floodAt(floodTolerance(split, { x: 0, y: 0, connected: false }), 5))).toBe(8);
    expect(() => floodTolerance(split, { x: 9, y: 0 })).toThrow('outside the picture of 9 × 1 px');
  });
  test('a seed’s area gives its mean colour', () => {
    const noisy = picture(20, 20, (x, y) => {
      const v = 100 + ((x + y) % 2) * 10;
      return [v, v, v];
    });
    expect(area(floodAt(floodTolerance(noisy, { x: 10, y: 10, reach: 4 }), 6))).toBe(400);
  });
});

test('a depth slice holds both its ends', () => {
  expect([
    ...depthSlice({ width: 5, height: 1, data: Uint16Array.of(0, 16384, 32768, 49151, 65535) }, 0.25, 0.75).data,
  ]).toEqual([0, 255, 255, 255, 0]);
});

describe('pieces and region paint', () => {
  const chance = seeded(9);
  const scene = picture(120, 90, (x, y) => {
    const n = Math.floor(chance() * 12);
    if (Math.hypot(x - 60, (y - 45) * 1.2) < 30) return [200 + n, 90 + n, 40];
    return x < 60 ? [40, 80 + n, 150] : [60 + n, 120, 60];
  });
  const truth = mask(120, 90, (x, y) => Math.hypot(x - 60, (y - 45) * 1.2) < 30);
  test('a picture of three even parts falls into three pieces', () => {
    const { count, of: pieceAt } = proposePieces(scene, { scale: 4000, smallest: 50 });
    expect(count).toBe(3);
    expect(new Set([pieceAt[0], pieceAt[119], pieceAt[45 * 120 + 60]]).size).toBe(3);
  });
  const strokes = (marks: readonly (readonly [number, number, number])[]) => {
    const data = new Uint8Array(120 * 90);
    for (const [x, y, v] of marks) for (let d = 0; d < 6; d++) data[y * 120 + x + d] = v;
    return { width: 120, height: 90, data };
  };
  test.each([
    ['in one piece', undefined],
    ['grown at half its size first', 4000],
    ['at a quarter', 1500],
  ])('one stroke in and two out find the disc to the pixel: %s', (_name, large) => {
    const out = new RegionPaint(scene, large).solve(
      strokes([
        [58, 45, STROKE_IN],
        [5, 5, STROKE_OUT],
        [110, 80, STROKE_OUT],
      ]),
    );
    expect(Buffer.compare(Buffer.from(out.data), Buffer.from(truth.data))).toBe(0);
  });
  test('a stroke against its surroundings keeps its side, also where the picture is grown at half its size first', () => {
    const marks = strokes([
      [58, 45, STROKE_IN],
      [5, 5, STROKE_OUT],
      [110, 80, STROKE_OUT],
      [61, 31, STROKE_OUT],
      [21, 71, STROKE_IN],
    ]);
    const { data } = new RegionPaint(scene, 4000).solve(marks);
    marks.data.forEach((mark, i) => {
      if (mark !== 0) expect([i, data[i]]).toEqual([i, mark === STROKE_IN ? 255 : 0]);
    });
  });
  test('a stroke always keeps its side, and adding it later gives what solving at once gives there', () => {
    const paint = new RegionPaint(scene);
    paint.solve(
      strokes([
        [58, 45, STROKE_IN],
        [5, 5, STROKE_OUT],
        [110, 80, STROKE_OUT],
      ]),
    );
    const out = paint.solve(
      strokes([
        [58, 45, STROKE_IN],
        [5, 5, STROKE_OUT],
        [110, 80, STROKE_OUT],
        [20, 70, STROKE_IN],
      ]),
    );
    for (let d = 0; d < 6; d++) expect(out.data[70 * 120 + 20 + d]).toBe(255);
    expect(out.data[5 * 120 + 6]).toBe(0);
  });
  test('one kind of stroke alone is refused', () => {
    expect(() => new RegionPaint(scene).solve(strokes([[58, 45, STROKE_IN]]))).toThrow('no stroke that says "out"');
  });
});

describe('soft mattes', () => {
  // A soft edge between two colours: coverage is a linear function of colour everywhere, which the method solves exactly.
  const width = 60;
  const height = 40;
  const edge = (x: number): number => Math.min(1, Math.max(0, (x - 22) / 16));
  const mixed = picture(width, height, (x) => {
    const a = edge(x);
    return [220 * a + 30 * (1 - a), 180 * a + 60 * (1 - a), 40 * a + 200 * (1 - a)].map(Math.round);
  });
  const trimap: Mask = {
    width,
    height,
    data: Uint8Array.from({ length: width * height }, (_, i) => sides(i % width, 18, 42)),
  };
  test('a mixture of two colours gives its coverage back, to the rounding of its colours', () => {
    const alpha = closedFormMatte(mixed, trimap, { accuracy: 1e-5 });
    // A column adds 12 steps of 255 to a channel and 1/16 of coverage; half a step of rounding in each of the 16 columns.
    for (let i = 0; i < alpha.length; i++)
      expect(Math.abs(alpha[i] - edge(i % width))).toBeLessThan((16 * (0.5 / 12)) / 16);
  });
  test('edge colour cleaning gives the thing’s own colour where it half covers', () => {
    const alpha = Float32Array.from({ length: width * height }, (_, i) => edge(i % width));
    const clean = cleanEdgeColour(mixed, alpha);
    for (let i = 0; i < alpha.length; i++) {
      // The mixture rounds by half a step, which the thing's colour shows 1/alpha times; then it rounds itself.
      if (alpha[i] === 0 || alpha[i] === 1) continue;
      [220, 180, 40].forEach((v, c) => {
        expect(Math.abs(clean.data[i * 4 + c] - v)).toBeLessThanOrEqual(0.5 / alpha[i] + 0.5);
      });
      expect(clean.data[i * 4 + 3]).toBe(Math.round(alpha[i] * 255));
    }
  });
  test('a trimap’s band is as wide as asked for, and reads from any grey', () => {
    const band = trimapOf(
      mask(60, 9, (x) => x < 30),
      10,
    );
    expect(band.data.slice(4 * 60, 5 * 60).filter((v) => v === UNSURE).length).toBe(10);
    expect([...asTrimap({ width: 4, height: 1, data: Uint8Array.of(3, 60, 200, 250) }).data]).toEqual([
      0,
      UNSURE,
      UNSURE,
      255,
    ]);
  });
  test('a trimap without one of its sides is refused', () => {
    expect(() => closedFormMatte(mixed, { ...trimap, data: trimap.data.map((v) => (v === 0 ? UNSURE : v)) })).toThrow(
      'no pixel that is surely out (black)',
    );
  });
});
