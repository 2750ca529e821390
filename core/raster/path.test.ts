import { Path } from './path';

const at = (path: Path, x: number, y: number) => path.locate(x, y, { along: 0, aside: 0 });

describe('a path of straight pieces', () => {
  // 30 px to the right, then 40 px down.
  const corner = new Path([
    { x: 10, y: 10 },
    { x: 40, y: 10 },
    { x: 40, y: 10 },
    { x: 40, y: 50 },
  ]);

  test('is as long as its pieces together, twins left out', () => {
    expect(corner.length).toBe(70);
    expect(new Path([{ x: 3, y: 4 }]).length).toBe(0);
  });

  test('says how far along and how far to its right hand a place lies', () => {
    expect(at(corner, 20, 13)).toEqual({ along: 10, aside: 3 });
    expect(at(corner, 20, 6)).toEqual({ along: 10, aside: -4 });
    expect(at(corner, 38, 30)).toEqual({ along: 50, aside: 2 });
    // Around the corner's outer side all belongs to the corner itself.
    expect(at(corner, 43, 6)).toEqual({ along: 30, aside: -5 });
  });

  test('goes on straight beyond both ends', () => {
    expect(at(corner, 4, 12)).toEqual({ along: -6, aside: 2 });
    expect(at(corner, 39, 57)).toEqual({ along: 77, aside: 1 });
    expect(corner.at(-6, 2)).toEqual({ x: 4, y: 12 });
    expect(corner.at(77, 1)).toEqual({ x: 39, y: 57 });
  });

  test('finds a place again that it has told', () => {
    for (const [x, y] of [
      [12, 11],
      [30, 4],
      [35, 45],
      [44, 20],
    ]) {
      const { along, aside } = at(corner, x, y);
      const back = corner.at(along, aside);
      expect(back.x).toBeCloseTo(x, 9);
      expect(back.y).toBeCloseTo(y, 9);
    }
  });
});
