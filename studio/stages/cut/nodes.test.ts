import { addCorner, dropCorner, holdAt, moveHold, nodeAt, shapeOf, type Shaped } from './nodes';

const outline: Shaped = {
  kind: 'outline',
  way: 'add',
  points: [
    { x: 0, y: 0 },
    { x: 100, y: 0 },
    { x: 100, y: 100 },
  ],
};
const curve: Shaped = {
  kind: 'curve',
  way: 'add',
  nodes: [nodeAt({ x: 0, y: 0 }, { x: 30, y: 0 }), nodeAt({ x: 100, y: 100 }, { x: 70, y: 100 })],
};

describe('corners of a choice’s outline', () => {
  test('the nearest corner within reach is taken hold of, else a handle, else the line', () => {
    expect(holdAt(outline, { x: 98, y: 3 }, 6)).toEqual({ part: 'corner', n: 1 });
    expect(holdAt(outline, { x: 50, y: 2 }, 6)).toMatchObject({ part: 'line', n: 0, t: 0.5 });
    expect(holdAt(outline, { x: 50, y: 30 }, 6)).toBeUndefined();
    expect(holdAt(curve, { x: 30, y: 1 }, 6)).toEqual({ part: 'out', n: 0 });
    expect(holdAt(curve, { x: -30, y: 1 }, 6)).toEqual({ part: 'in', n: 0 });
  });
  test('a moved corner takes its handles along; a moved handle turns its partner, unless alone', () => {
    expect(moveHold(outline, { part: 'corner', n: 1 }, { x: 90.04, y: 5 }, false)).toMatchObject({
      points: [
        { x: 0, y: 0 },
        { x: 90, y: 5 },
        { x: 100, y: 100 },
      ],
    });
    expect(moveHold(curve, { part: 'corner', n: 0 }, { x: 10, y: 20 }, false)).toMatchObject({
      nodes: [{ x: 10, y: 20, outX: 40, outY: 20, inX: -20, inY: 20 }, {}],
    });
    expect(moveHold(curve, { part: 'out', n: 0 }, { x: 0, y: 60 }, false)).toMatchObject({
      nodes: [{ x: 0, y: 0, outX: 0, outY: 60, inX: 0, inY: -30 }, {}],
    });
    expect(moveHold(curve, { part: 'out', n: 0 }, { x: 0, y: 60 }, true)).toMatchObject({
      nodes: [{ inX: -30, inY: 0 }, {}],
    });
  });
  test('corners are added on the line and dropped as long as a shape is left', () => {
    expect(addCorner(outline, { part: 'line', n: 2, t: 0.5 })).toMatchObject({
      points: [
        { x: 0, y: 0 },
        { x: 100, y: 0 },
        { x: 100, y: 100 },
        { x: 50, y: 50 },
      ],
    });
    expect(addCorner(curve, { part: 'line', n: 0, t: 0.5 })).toMatchObject({
      nodes: [{ x: 0 }, { x: 72.5, y: 50 }, { x: 100 }],
    });
    expect(dropCorner(outline, 1)).toBe(outline);
    expect(dropCorner(addCorner(outline, { part: 'line', n: 0, t: 0.5 }), 1)).toEqual(outline);
  });
  test('freely drawn outlines and other ingredients have no corners to take', () => {
    expect(
      shapeOf({ kind: 'outline', way: 'add', points: Array.from({ length: 500 }, (_, n) => ({ x: n, y: n % 7 })) }),
    ).toBeUndefined();
    expect(shapeOf({ kind: 'slice', way: 'add', far: 0, near: 1 })).toBeUndefined();
    expect(shapeOf(curve)).toBe(curve);
  });
});
