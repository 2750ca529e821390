import type { Placement } from '../raster/placePiece';
import { moveDepth } from './moveDepth';

const width = 80;
const height = 60;
/** Depth that is linear in x and y, so that linear sampling between pixels is exact. */
const slope = {
  width,
  height,
  data: Uint16Array.from({ length: width * height }, (_, i) => 1000 + (i % width) * 300 + Math.floor(i / width) * 500),
};
const still: Placement = { x: 40, y: 30, scale: 1, turn: 0, flipAcross: false, flipDown: false };
/** The slope's value at a place of the old canvas, px; pixel centres lie at half px. */
const value = (x: number, y: number): number => 1000 + (x - 0.5) * 300 + (y - 0.5) * 500;
const at = (map: ReturnType<typeof moveDepth>, x: number, y: number): number => map.data[y * map.width + x];

describe('a depth that travels with its piece', () => {
  test('that stays where it is stays as it is', () => {
    expect(moveDepth(slope, still, still)).toEqual(slope);
  });

  test('moved by whole px it is the same values elsewhere; beyond the old canvas the outermost go on', () => {
    const moved = moveDepth(slope, still, { ...still, x: 50, y: 25 });
    for (const [x, y] of [
      [20, 20],
      [60, 40],
    ])
      expect(at(moved, x, y)).toBe(slope.data[(y + 5) * width + x - 10]);
    expect(at(moved, 3, 20)).toBe(slope.data[25 * width]);
    expect(at(moved, 20, 58)).toBe(slope.data[59 * width + 10]);
  });

  // A pixel's centre, seen from the piece's middle, turned and scaled back by hand.
  test.each<[string, Partial<Placement>, (dx: number, dy: number) => [number, number]]>([
    ['turned by a quarter', { turn: 90 }, (dx, dy) => [dy, -dx]],
    ['turned by 180 degrees', { turn: 180 }, (dx, dy) => [-dx, -dy]],
    ['flipped across', { flipAcross: true }, (dx, dy) => [-dx, dy]],
    ['flipped down', { flipDown: true }, (dx, dy) => [dx, -dy]],
    ['twice as large', { scale: 2 }, (dx, dy) => [dx / 2, dy / 2]],
    ['half as large', { scale: 0.5 }, (dx, dy) => [dx * 2, dy * 2]],
    [
      'turned by 30 degrees',
      { turn: 30 },
      (dx, dy) => [dx * Math.cos(Math.PI / 6) + dy * 0.5, dy * Math.cos(Math.PI / 6) - dx * 0.5],
    ],
  ])('%s it shows at each place what lay at its own place before', (_name, now, back) => {
    const moved = moveDepth(slope, still, { ...still, ...now });
    for (const [x, y] of [
      [40, 30],
      [48, 34],
      [35, 22],
      [44, 39],
    ]) {
      const [px, py] = back(x + 0.5 - 40, y + 0.5 - 30);
      expect(Math.abs(at(moved, x, y) - value(40 + px, 30 + py))).toBeLessThanOrEqual(1);
    }
  });

  test('there and back again it is what it was, away from the border', () => {
    const away: Placement = { x: 44, y: 28, scale: 1.5, turn: 35, flipAcross: true, flipDown: false };
    const back = moveDepth(moveDepth(slope, still, away), away, still);
    for (const [x, y] of [
      [40, 30],
      [45, 33],
      [34, 26],
    ])
      expect(Math.abs(at(back, x, y) - at(slope, x, y))).toBeLessThanOrEqual(2);
  });

  test('onto a larger canvas', () => {
    const moved = moveDepth(slope, still, { ...still, x: 50, y: 30 }, { width: 100, height });
    expect(moved.width).toBe(100);
    expect(at(moved, 50, 30)).toBe(at(slope, 40, 30));
  });
});
