import type { DepthMap, Mask, Picture8 } from '../raster/picture';
import { RegionPaint } from './regionPaint';
import { STROKE_IN, STROKE_OUT, type Strokes } from './strokes';

const width = 120;
const height = 80;
const size = { width, height };

function picture(colour: (x: number, y: number) => readonly number[]): Picture8<'straight'> {
  const data = new Uint8Array(width * height * 4);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 4) {
      const [r, g, b] = colour(x, y);
      // Noise of a few levels, the same every time.
      const n = ((x * 7919 + y * 104729) % 7) - 3;
      data.set([r + n, g + n, b + n, 255], i);
    }
  return { ...size, bits: 8, alpha: 'straight', data };
}
const depth = (at: (x: number, y: number) => number): DepthMap => ({
  ...size,
  data: Uint16Array.from({ length: width * height }, (_, i) => at(i % width, Math.floor(i / width))),
});
/** Boxes that are stroked: left, top, right, bottom. */
function strokes(...said: readonly [number, number, number, number, side: number][]): Strokes {
  const data = new Uint8Array(width * height);
  for (const [left, top, right, bottom, side] of said)
    for (let y = top; y < bottom; y++) data.fill(side, y * width + left, y * width + right);
  return { ...size, data };
}
const share = (mask: Mask, is: (x: number, y: number) => boolean): number => {
  let both = 0;
  let any = 0;
  mask.data.forEach((v, i) => {
    const truth = is(i % width, Math.floor(i / width));
    if (v > 127 && truth) both++;
    if (v > 127 || truth) any++;
  });
  return both / any;
};

/** Leaves of 4 px, light and dark by chance, the same every time. */
const leaf = (x: number, y: number): readonly number[] =>
  (((x >> 2) * 73_856_093) ^ ((y >> 2) * 19_349_663)) % 5 < 2 ? [44, 84, 40] : [92, 150, 78];

/** A bush before a hedge of the same leaves, before a grey wall. */
const isBush = (x: number, y: number): boolean => Math.hypot(x - 45, y - 50) < 18;
const isHedge = (x: number, y: number): boolean => !isBush(x, y) && y > 34 && x > 20;
const bushes = picture((x, y) => (isBush(x, y) || isHedge(x, y) ? leaf(x, y) : [150, 150, 155]));
const near = depth((x, y) => {
  if (isBush(x, y)) return 50_000;
  return isHedge(x, y) ? 22_000 : 9_000;
});
const said = strokes(
  [36, 45, 54, 49, STROKE_IN],
  [40, 54, 50, 57, STROKE_IN],
  [80, 40, 110, 44, STROKE_OUT],
  [70, 66, 100, 70, STROKE_OUT],
  [10, 8, 100, 12, STROKE_OUT],
  [4, 40, 10, 70, STROKE_OUT],
);

describe('region paint by colours and depth', () => {
  test('what colours alone do not tell apart depth does', () => {
    const paint = new RegionPaint(bushes);
    const alone = share(paint.solve(said), isBush);
    const byDepth = share(paint.solve(said, near), isBush);
    expect(alone).toBeLessThan(0.5);
    expect(byDepth).toBeGreaterThan(0.85);
  });

  test('a rough map, soft by some px and off by a tenth, still helps', () => {
    const rough = depth((x, y) => {
      let sum = 0;
      for (let v = -4; v <= 4; v++)
        for (let u = -4; u <= 4; u++)
          sum += near.data[Math.min(79, Math.max(0, y + v)) * width + Math.min(119, Math.max(0, x + u))];
      return sum / 81 + 3000 * Math.sin(x / 9) * Math.cos(y / 7);
    });
    const paint = new RegionPaint(bushes);
    const alone = share(paint.solve(said), isBush);
    expect(share(paint.solve(said, rough), isBush)).toBeGreaterThan(alone + 0.1);
  });

  test('a map that tells nothing of the strokes’ sides has no say: a ramp, one depth everywhere', () => {
    const card = picture((x, y) => (isBush(x, y) ? [160, 70, 50] : [90, 110, 150]));
    const paint = new RegionPaint(card);
    const alone = paint.solve(said);
    expect(share(alone, isBush)).toBeGreaterThan(0.98);
    expect(
      paint.solve(
        said,
        depth(() => 31_000),
      ).data,
    ).toEqual(alone.data);
    expect(
      share(
        paint.solve(
          said,
          depth((x) => 9000 + 400 * x),
        ),
        isBush,
      ),
    ).toBeGreaterThan(0.98);
  });

  test('depth that was painted since is looked at anew, also in place', () => {
    const paint = new RegionPaint(bushes);
    const map = depth(() => 20_000);
    const before = paint.solve(said, map);
    map.data.set(near.data);
    const after = paint.solve(said, map);
    expect(share(after, isBush)).toBeGreaterThan(share(before, isBush) + 0.2);
    expect(after.data).toEqual(new RegionPaint(bushes).solve(said, near).data);
  });

  test('a map of another size is refused', () => {
    expect(() => new RegionPaint(bushes).solve(said, { width: 60, height: 40, data: new Uint16Array(2400) })).toThrow(
      'The depth map',
    );
  });

  test('grown at half its size first it comes out alike', () => {
    expect(share(new RegionPaint(bushes, 4000).solve(said, near), isBush)).toBeGreaterThan(0.6);
  });
});

describe('what is joined to a stroke', () => {
  const isDisc = (x: number, y: number): boolean => Math.hypot(x - 30, y - 40) < 14;
  const isLeaf = (x: number, y: number): boolean => x >= 47 && x < 50 && y >= 36 && y < 42;
  const isOther = (x: number, y: number): boolean => Math.hypot(x - 95, y - 40) < 14;
  const discs = picture((x, y) => (isDisc(x, y) || isLeaf(x, y) || isOther(x, y) ? [170, 60, 40] : [60, 90, 130]));
  const mark = strokes([24, 36, 36, 44, STROKE_IN], [10, 4, 110, 8, STROKE_OUT]);

  test('belongs to it over a gap of a few px; the same colours far away do not', () => {
    const mask = new RegionPaint(discs).solve(mark);
    expect(share(mask, (x, y) => isDisc(x, y) || isLeaf(x, y))).toBeGreaterThan(0.97);
  });

  test('far away a stroke of its own says so', () => {
    const both = strokes([24, 36, 36, 44, STROKE_IN], [90, 38, 100, 42, STROKE_IN], [10, 4, 110, 8, STROKE_OUT]);
    const mask = new RegionPaint(discs).solve(both);
    expect(share(mask, (x, y) => isDisc(x, y) || isLeaf(x, y) || isOther(x, y))).toBeGreaterThan(0.97);
  });
});

test('region paint is unsure nowhere, where the colours are clear', () => {
  const clear = picture((x, y) => (isBush(x, y) ? [200, 60, 40] : [60, 90, 130]));
  const unsure = new RegionPaint(clear).unsure(said);
  expect(unsure.data.every((v) => v === 0)).toBe(true);
});

test('a stroke wider than the bar it is drawn on does not mean the sky beside it', () => {
  // Bars of 3 px before a bright sky, stroked 5 px wide along one of them.
  const isBar = (x: number, y: number): boolean => x % 30 >= 14 && x % 30 < 17 && y >= 10 && y < 70;
  const rail = (x: number, y: number): boolean => y >= 10 && y < 14 && x >= 14 && x < 107;
  const grid = picture((x, y) => (isBar(x, y) || rail(x, y) ? [70, 80, 75] : [215, 222, 230]));
  const mark = strokes(
    [43, 20, 48, 60, STROKE_IN],
    [20, 11, 100, 13, STROKE_IN],
    [24, 30, 34, 34, STROKE_OUT],
    [55, 40, 65, 44, STROKE_OUT],
    [84, 50, 94, 54, STROKE_OUT],
  );
  const mask = new RegionPaint(grid).solve(mark);
  const at = (x: number, y: number): number => mask.data[y * width + x];
  // The pane beside the stroke stays out, the bar itself and its neighbours that the rail joins are in.
  expect([at(52, 30), at(38, 30), at(60, 60)]).toEqual([0, 0, 0]);
  expect([at(45, 40), at(15, 40), at(75, 60), at(105, 30)]).toEqual([255, 255, 255, 255]);
});
