import { seeded } from '@/tests/support/chance';
import type { DepthMap } from '../raster/picture';
import { fillUnknown, unknownPlaces } from './fillUnknown';

const width = 400;
const height = 300;
const map = (value: (x: number, y: number) => number): DepthMap => ({
  width,
  height,
  data: Uint16Array.from({ length: width * height }, (_, i) => value(i % width, Math.floor(i / width))),
});
const chance = seeded(5);
/** Discs at depths of their own before a wall. */
const discs = Array.from({ length: 40 }, () => ({
  x: chance() * width,
  y: chance() * height,
  r: 8 + chance() * 20,
  d: 20000 + Math.floor(chance() * 40000),
}));
const known = map((x, y) =>
  discs.reduce((d, disc) => ((x - disc.x) ** 2 + (y - disc.y) ** 2 < disc.r ** 2 ? Math.max(d, disc.d) : d), 12000),
);
const scene = (x: number, y: number): number => known.data[y * width + Math.min(x, width - 1)];
/** What a second camera does not see: left of whatever is nearer, as wide as the jump. */
const hidden = (x: number, y: number): boolean => {
  for (let u = 1; u <= 12; u++) if (scene(x + u, y) - scene(x, y) > u * 4000) return true;
  return false;
};
const unseen = map((x, y) => (hidden(x, y) ? 0 : scene(x, y)));

describe('unknownPlaces', () => {
  test('finds what a map from two pictures leaves out', () => {
    const unknown = unknownPlaces(unseen)!;
    expect(unknown.data.filter((v) => v === 255)).toHaveLength(unseen.data.filter((v) => v === 0).length);
  });

  test.each([
    ['nothing is 0', map(scene)],
    ['0 is the farthest of many depths', map((x, y) => (x + y < 40 ? 0 : scene(x, y) - 11999))],
    ['0 is a sky above', map((x, y) => (y < 25 ? 0 : scene(x, y)))],
    ['0 is a sky behind everything', map((x, y) => (scene(x, y) === 12000 ? 0 : scene(x, y)))],
    ['0 is seen through a few windows', map((x, y) => (x % 200 < 20 && y % 200 < 20 ? 0 : scene(x, y)))],
  ])('is silent where %s', (_name, given) => {
    expect(unknownPlaces(given)).toBeUndefined();
  });
});

describe('fillUnknown', () => {
  test('takes the farther neighbour of the row: what is hidden from one camera lies behind', () => {
    const filled = fillUnknown(unseen, unknownPlaces(unseen)!, true);
    let wrong = 0;
    for (let i = 0; i < filled.data.length; i++) {
      if (unseen.data[i] !== 0) expect(filled.data[i]).toBe(unseen.data[i]);
      else if (filled.data[i] !== scene(i % width, Math.floor(i / width))) wrong++;
    }
    // Where a third disc cuts in, or the border, the neighbour is not what lies behind.
    expect(wrong).toBeLessThan(0.25 * unseen.data.filter((v) => v === 0).length);
  });

  test('where black is near the larger value is the farther one; rows without anything known stay', () => {
    const row = { width: 6, height: 2, data: Uint16Array.of(5, 0, 0, 9, 0, 0, 0, 0, 0, 0, 0, 0) };
    const unknown = { width: 6, height: 2, data: Uint8Array.from(row.data, (v) => (v === 0 ? 255 : 0)) };
    expect([...fillUnknown(row, unknown, true).data]).toEqual([5, 5, 5, 9, 9, 9, 0, 0, 0, 0, 0, 0]);
    expect([...fillUnknown(row, unknown, false).data]).toEqual([5, 9, 9, 9, 9, 9, 0, 0, 0, 0, 0, 0]);
  });
});
