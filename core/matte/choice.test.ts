import type { DepthMap, Picture8 } from '../raster/picture';
import { ChoiceMaker, choiceSchema, PLAIN_EDGE, type Choice } from './choice';
import { drawOutline } from './outline';

const width = 80;
const height = 60;
/** Byte i of an opaque picture of two greys. */
const grey = (i: number, left: boolean): number => {
  if ((i & 3) === 3) return 255;
  return left ? 60 : 190;
};
const picture: Picture8 = {
  bits: 8 as const,
  alpha: 'straight' as const,
  width,
  height,
  data: Uint8Array.from({ length: width * height * 4 }, (_, i) => grey(i, (i >> 2) % width < 40)),
};
const depth: DepthMap = {
  width,
  height,
  data: Uint16Array.from({ length: width * height }, (_, i) => Math.round(((i % width) / (width - 1)) * 65535)),
};
const area = (choice: Choice, scale = 1): number =>
  new ChoiceMaker(picture, { left: 0, top: 0, scale }).make(choice, depth).data.reduce((a, v) => a + v, 0) / 255;
const square = (x0: number, y0: number, x1: number, y1: number) => [
  { x: x0, y: y0 },
  { x: x1, y: y0 },
  { x: x1, y: y1 },
  { x: x0, y: y1 },
];

describe('outlines', () => {
  test('cover each pixel by what lies inside', () => {
    const m = drawOutline(8, 8, square(1.5, 2, 5.25, 4));
    expect([...m.data.slice(16, 24)]).toEqual([0, 128, 255, 255, 255, 64, 0, 0]);
    expect(
      drawOutline(
        200,
        200,
        Array.from({ length: 90 }, (_, n) => ({
          x: 100 + 60 * Math.cos(n / 14.3239),
          y: 100 + 60 * Math.sin(n / 14.3239),
        })),
      ).data.reduce((a, v) => a + v, 0) / 255,
    ).toBeCloseTo(Math.PI * 3600, -2);
  });
});

describe('a choice', () => {
  test('joins its ingredients in turn: added, taken away, kept where both are', () => {
    const outline = { kind: 'outline' as const, points: square(10, 10, 50, 40) };
    expect(area({ ingredients: [{ ...outline, way: 'add' }], edge: PLAIN_EDGE })).toBe(40 * 30);
    expect(
      area({
        ingredients: [
          { ...outline, way: 'add' },
          { kind: 'flood', way: 'take', x: 5, y: 5, tolerance: 20, reach: 0, connected: true },
        ],
        edge: PLAIN_EDGE,
      }),
    ).toBe(10 * 30);
    expect(
      area({
        ingredients: [
          { ...outline, way: 'add' },
          { kind: 'slice', way: 'intersect', far: 0, near: 19.5 / 79 },
        ],
        edge: PLAIN_EDGE,
      }),
    ).toBe(10 * 30);
  });
  test('its edge is worked on in a fixed order, and can be turned round', () => {
    const ingredients: Choice['ingredients'] = [{ kind: 'outline', way: 'add', points: square(20, 20, 40, 40) }];
    expect(area({ ingredients, edge: { ...PLAIN_EDGE, invert: true } })).toBe(width * height - 400);
    expect(area({ ingredients, edge: { ...PLAIN_EDGE, offsetPx: 2 } })).toBeGreaterThan(550);
  });
  test('at half the size it chooses the same part of the picture', () => {
    const half: Picture8 = {
      bits: 8 as const,
      alpha: 'straight' as const,
      width: 40,
      height: 30,
      data: Uint8Array.from({ length: 40 * 30 * 4 }, (_, i) => grey(i, (i >> 2) % 40 < 20)),
    };
    const map: DepthMap = { width: 40, height: 30, data: new Uint16Array(1200) };
    const choice: Choice = {
      ingredients: [
        { kind: 'outline', way: 'add', points: square(10, 10, 60, 50) },
        { kind: 'flood', way: 'intersect', x: 70, y: 30, tolerance: 9, reach: 0, connected: true },
      ],
      edge: PLAIN_EDGE,
    };
    const small =
      new ChoiceMaker(half, { left: 0, top: 0, scale: 0.5 }).make(choice, map).data.reduce((a, v) => a + v, 0) / 255;
    expect(small * 4).toBe(area(choice));
  });
  test('region paint among the ingredients takes its strokes', () => {
    const strokes = (side: 'in' | 'out', x: number) => ({
      side,
      size: 4,
      points: [
        { x, y: 10 },
        { x, y: 50 },
      ],
    });
    expect(
      area({
        ingredients: [{ kind: 'region', way: 'add', strokes: [strokes('in', 10), strokes('out', 70)] }],
        edge: PLAIN_EDGE,
      }),
    ).toBe(40 * height);
  });
  test('nothing left is said so, and nonsense from outside is refused', () => {
    const outline = { kind: 'outline' as const, way: 'add' as const, points: square(10, 10, 20, 20) };
    expect(() => area({ ingredients: [outline, { ...outline, way: 'take' }], edge: PLAIN_EDGE })).toThrow(
      'Nothing is chosen',
    );
    for (const bad of [
      { ingredients: [], edge: PLAIN_EDGE },
      { ingredients: [{ ...outline, points: outline.points.slice(2) }], edge: PLAIN_EDGE },
      { ingredients: [outline], edge: { ...PLAIN_EDGE, offsetPx: 1e4 } },
      {
        ingredients: [{ kind: 'flood', way: 'add', x: Number.NaN, y: 0, tolerance: 1, reach: 0, connected: true }],
        edge: PLAIN_EDGE,
      },
    ])
      expect(choiceSchema.safeParse(bad).success).toBe(false);
  });
});
