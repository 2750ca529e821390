import { pictureOf, type DepthMap, type Picture8 } from '../raster/picture';
import { depthMakeSchema, makeDepth } from './makers';
import { findSpikes, flattenSpikes } from './spikes';

const WIDTH = 120;
const HEIGHT = 90;
const size = { width: WIDTH, height: HEIGHT };
type At = (x: number, y: number) => number;
const mapOf = (f: At): DepthMap => ({
  ...size,
  data: Uint16Array.from({ length: WIDTH * HEIGHT }, (_, i) => f(i % WIDTH, Math.floor(i / WIDTH)) * 65535),
});
const pictureFrom = (f: At): Picture8 =>
  pictureOf(
    size,
    Uint8Array.from({ length: WIDTH * HEIGHT * 4 }, (_, k) =>
      k % 4 === 3 ? 255 : f((k >> 2) % WIDTH, Math.floor((k >> 2) / WIDTH)),
    ),
    'straight',
  );
const plain = pictureFrom(() => 100);
const slope: At = (x) => 0.2 + 0.004 * x;
const spike = (x: number, y: number): boolean => x >= 50 && x < 54 && y >= 20 && y < 60;
const pit = (x: number, y: number): boolean => x >= 80 && x < 100 && y >= 70 && y < 75;
const block = (x: number, y: number): boolean => x >= 10 && x < 40 && y >= 10 && y < 50;
const scene: At = (x, y) => {
  if (spike(x, y)) return 0.9;
  if (pit(x, y)) return 0.02;
  return block(x, y) ? 0.7 : slope(x, y);
};
const search = { by: 0.12, wide: 6 };

test('narrow things that stand out are found, near and far, with where, how far and how wide', () => {
  const found = findSpikes(mapOf(scene), plain, search);
  expect(found).toHaveLength(2);
  const [b, a] = found;
  expect(spike(a.x, a.y)).toBe(true);
  expect(a.depth).toBeCloseTo(0.9, 3);
  expect(Math.abs(a.around - slope(52, 0))).toBeLessThan(0.03);
  expect(a.wide).toBe(4);
  expect(a.pixels).toHaveLength(160);
  expect(pit(b.x, b.y)).toBe(true);
  expect(b.depth).toBeCloseTo(0.02, 3);
  expect(b.wide).toBe(5);
});

test('what is wide, what is low, and what the picture has too are none', () => {
  expect(findSpikes(mapOf(scene), plain, { by: 0.12, wide: 2 }).some((s) => block(s.x, s.y))).toBe(false);
  expect(findSpikes(mapOf(scene), plain, { by: 0.6, wide: 6 })).toHaveLength(0);
  const bar = pictureFrom((x, y) => (spike(x, y) ? 160 : 100));
  expect(findSpikes(mapOf(scene), bar, search).map((s) => pit(s.x, s.y))).toEqual([true]);
});

test('laid flat they take the depth around them, and nothing else changes', () => {
  const map = mapOf(scene);
  const flat = flattenSpikes(map, findSpikes(map, plain, search), search.wide);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const truth = spike(x, y) || pit(x, y) ? slope(x, y) : scene(x, y);
      // Around a spike the window has the slope of its own width; beside it one px may change by as much.
      expect(Math.abs(flat[y * WIDTH + x] - truth)).toBeLessThan(0.004 * 7);
    }
});

test('one of them is laid flat by where it is, at half size too', () => {
  const make = depthMakeSchema.parse({ kind: 'flatten', by: 0.12, wide: 12, at: [{ x: 104, y: 80 }] });
  const made = makeDepth({ picture: plain, depth: mapOf(scene), scale: 0.5 }, make);
  expect(made[40 * WIDTH + 52]).toBeCloseTo(slope(52, 0), 1);
  expect(made[72 * WIDTH + 90]).toBeCloseTo(0.02, 3);
  const all = makeDepth({ picture: plain, depth: mapOf(scene), scale: 0.5 }, { kind: 'flatten', by: 0.12, wide: 12 });
  expect(all[72 * WIDTH + 90]).toBeCloseTo(slope(90, 0), 1);
});
