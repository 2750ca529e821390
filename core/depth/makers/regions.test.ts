import { PLAIN_EDGE, type Choice } from '../../matte/choice';
import { guidedFilter } from '../../raster/guidedFilter';
import { pictureOf, type DepthMap, type Mask } from '../../raster/picture';
import { leafNoise } from '../leafNoise';
import { depthMakeSchema, makeDepth, makeLabel, type DepthMake } from '.';

const WIDTH = 100;
const HEIGHT = 60;
const picture = pictureOf({ width: WIDTH, height: HEIGHT }, new Uint8Array(WIDTH * HEIGHT * 4).fill(120), 'straight');
const mapOf = (f: (x: number, y: number) => number): DepthMap => ({
  width: WIDTH,
  height: HEIGHT,
  data: Uint16Array.from({ length: WIDTH * HEIGHT }, (_, i) => f(i % WIDTH, Math.floor(i / WIDTH)) * 65535),
});
/** A box, at full size twice as large. */
const box = (left: number, top: number, right: number, bottom: number): Choice => ({
  edge: PLAIN_EDGE,
  ingredients: [
    {
      kind: 'outline',
      way: 'add',
      points: [
        { x: left * 2, y: top * 2 },
        { x: right * 2, y: top * 2 },
        { x: right * 2, y: bottom * 2 },
        { x: left * 2, y: bottom * 2 },
      ],
    },
  ],
});
const where = (choice: Choice) => ({ kind: 'chosen', choice }) as const;
const middle = where(box(30, 20, 70, 40));
const made = (make: DepthMake, depth: DepthMap, matte?: Mask): Float32Array =>
  makeDepth({ picture, depth, scale: 0.5, ...(matte ? { matte } : {}) }, make);
const at = (depth: Float32Array, x: number, y: number): number => depth[y * WIDTH + x];
const inside = (x: number, y: number): boolean => x >= 30 && x < 70 && y >= 20 && y < 40;

const step = mapOf((x, y) => (inside(x, y) ? 0.8 : 0.2));
const slope = mapOf((x) => 0.2 + 0.005 * x);

test.each<[string, DepthMake, (was: number, x: number, y: number) => number]>([
  ['a slice', { kind: 'slice', from: 0, to: 1, by: 0.1, times: 1, soft: 0, where: middle }, (was) => was + 0.1],
  ['one depth', { kind: 'level', depth: 0.4, where: middle }, () => 0.4],
  [
    'unevenness',
    { kind: 'uneven', by: 0.2, grain: 9, seed: 4, where: middle },
    (was, x, y) => was + 0.2 * leafNoise(2 * x + 1, 2 * y + 1, 9, 4),
  ],
])('%s is kept to the part that is chosen', (_name, make, truth) => {
  const depth = made(make, slope);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const was = slope.data[y * WIDTH + x] / 65535;
      expect(at(depth, x, y)).toBeCloseTo(inside(x, y) ? truth(was, x, y) : was, 4);
    }
});

describe('an edge that is blended', () => {
  test('outward, the region fades into what surrounds it', () => {
    const depth = made({ kind: 'blend', px: 20, side: 'outward', where: middle }, step);
    // 20 full-size px are 10 of these, and the first px beyond the edge lies half a px from it.
    for (let n = 0; n < 12; n++) {
      const t = Math.min(1, (n + 0.5) / 10);
      expect(at(depth, 70 + n, 30)).toBeCloseTo(0.2 + (1 - t * t * (3 - 2 * t)) * 0.6, 3);
    }
    expect(at(depth, 69, 30)).toBeCloseTo(0.8, 4);
    expect(at(depth, 5, 5)).toBeCloseTo(0.2, 4);
  });

  test('inward, what surrounds it fades into the region', () => {
    const depth = made({ kind: 'blend', px: 10, side: 'inward', where: middle }, step);
    for (let n = 0; n < 7; n++) {
      const t = Math.min(1, (n + 0.5) / 5);
      expect(at(depth, 69 - n, 30)).toBeCloseTo(0.8 - (1 - t * t * (3 - 2 * t)) * 0.6, 3);
    }
    expect(at(depth, 70, 30)).toBeCloseTo(0.2, 4);
  });

  test('what has no edge is refused', () => {
    expect(() => made({ kind: 'blend', px: 10, side: 'inward' }, step)).toThrow('Only a plate that was cut');
  });
});

describe('bodies', () => {
  const flat = mapOf(() => 0.4);

  test('a column is rounded across by its own thickness, row by row', () => {
    const depth = made({ kind: 'round', profile: 'ball', along: 'across', by: 0.2, reach: 1, where: middle }, flat);
    for (const y of [20, 30, 39])
      for (let x = 30; x < 70; x++) {
        const t = Math.min(x + 0.5 - 30, 70 - x - 0.5) / 20;
        expect(at(depth, x, y)).toBeCloseTo(0.4 + 0.2 * Math.sqrt(1 - (1 - t) ** 2), 4);
      }
    expect(at(depth, 29, 30)).toBeCloseTo(0.4, 4);
    const lying = made({ kind: 'round', profile: 'tent', along: 'down', by: 0.2, reach: 1, where: middle }, flat);
    for (let y = 20; y < 40; y++)
      expect(at(lying, 50, y)).toBeCloseTo(0.4 + (0.2 * Math.min(y + 0.5 - 20, 40 - y - 0.5)) / 10, 4);
  });

  test('a chosen part of the back plate gets one, without there being a plate', () => {
    const depth = made({ kind: 'round', profile: 'pillow', by: 0.2, reach: 0.5, where: middle }, flat);
    expect(at(depth, 50, 30)).toBeCloseTo(0.6, 3);
    expect(at(depth, 10, 30)).toBeCloseTo(0.4, 4);
  });
});

describe('two regions’ depths', () => {
  // Within the box depth runs from .3 to .5, in the upper left corner from .6 to .7.
  const two = mapOf((x, y) => (inside(x, y) ? 0.3 + (0.2 * (x - 29.5)) / 40 : 0.6 + (0.1 * ((x % 20) + 0.5)) / 20));
  const like = { x: 20, y: 20, size: 40 };

  test('are laid equally deep', () => {
    const depth = made({ kind: 'match', where: middle, like, span: false }, two);
    // The middle of the one comes to where the middle of the other is; a disc's columns count by their length, which
    // keeps it there.
    expect(at(depth, 50, 30) - 0.65).toBeCloseTo(0, 2);
    expect(at(depth, 69, 30) - at(depth, 30, 30)).toBeCloseTo((0.2 * 39) / 40, 3);
    expect(at(depth, 10, 5)).toBeCloseTo(two.data[5 * WIDTH + 10] / 65535, 4);
  });

  test('and, where it is asked, equally spread', () => {
    const depth = made({ kind: 'match', where: middle, like, span: true }, two);
    const times = (at(depth, 69, 30) - at(depth, 30, 30)) / ((0.2 * 39) / 40);
    // Nine tenths less one tenth: .16 of the box; of a disc's columns the outermost tenths are narrower, so less than
    // .08.
    expect(times).toBeGreaterThan(0.3);
    expect(times).toBeLessThan(0.5);
  });

  test('a place outside the picture is refused', () => {
    expect(() => made({ kind: 'match', where: middle, like: { x: 900, y: 900, size: 10 }, span: false }, two)).toThrow(
      'outside the picture',
    );
  });
});

test('where nothing is chosen it is said', () => {
  const away = where(box(400, 400, 500, 500));
  expect(() => made({ kind: 'level', depth: 1, where: away }, slope)).toThrow('Nothing is chosen');
});

test('a depth slice can be the part that is shaped, and cut to an outline', () => {
  const choice: Choice = {
    edge: PLAIN_EDGE,
    ingredients: [
      { kind: 'slice', way: 'add', far: 0.3, near: 0.5 },
      { ...box(0, 0, 100, 30).ingredients[0], way: 'intersect' },
    ],
  };
  const depth = made({ kind: 'level', depth: 1, where: where(choice) }, slope);
  for (const y of [10, 45])
    for (let x = 0; x < WIDTH; x += 7) {
      const was = slope.data[y * WIDTH + x] / 65535;
      expect(at(depth, x, y)).toBeCloseTo(y < 30 && was >= 0.3 && was <= 0.5 ? 1 : was, 4);
    }
});

test('a guided fit gives what the guided filter gives', () => {
  const depth = made({ kind: 'fit', by: 'guided', reach: 12, edge: 15 }, step);
  const filtered = guidedFilter(
    Float32Array.from(step.data, (v) => v / 65535),
    picture,
    { radius: 6, epsilon: (5 / 255) ** 2 },
  );
  for (const i of [0, 2030, 3050]) expect(depth[i]).toBeCloseTo(filtered[i], 6);
});

test('each has a name, and what no map is made of is refused', () => {
  const names = [
    { kind: 'blend', px: 9, side: 'outward' },
    { kind: 'level', depth: 0.25 },
    { kind: 'match', like: { x: 1, y: 1, size: 9 }, span: true },
    { kind: 'uneven', by: 0.1, grain: 9, seed: 1 },
  ].map((make) => makeLabel(depthMakeSchema.parse(make)));
  expect(names).toEqual(['Blend the edge outward', 'Fill with 0.25', 'Match depths', 'Make uneven']);
  for (const wrong of [
    { kind: 'level', depth: 2 },
    { kind: 'blend', px: 0, side: 'outward' },
    { kind: 'uneven', by: 0.1, grain: 9, seed: 0.5 },
    { kind: 'level', depth: 0.5, where: { kind: 'somewhere' } },
  ])
    expect(depthMakeSchema.safeParse(wrong).success).toBe(false);
});
