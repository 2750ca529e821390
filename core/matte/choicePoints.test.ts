import { PLAIN_EDGE, type Choice } from './choice';
import { drawnAlike, isOutlined, pointsOf, withPoints } from './choicePoints';

const outlined: Choice = {
  ingredients: [
    { kind: 'outline', way: 'add', points: [1, 2, 3].map((x) => ({ x, y: 10 * x })) },
    {
      kind: 'curve',
      way: 'take',
      nodes: [4, 5].map((x) => ({ x, y: 0, inX: x - 1, inY: -1, outX: x + 1, outY: 1 })),
    },
  ],
  edge: { ...PLAIN_EDGE, featherPx: 2, unsure: [{ size: 8, points: [{ x: 7, y: 7 }] }] },
};

test('an outlined choice is its points: corners, nodes with their handles, and the strokes over its edge', () => {
  const points = pointsOf(outlined);
  expect(points).toHaveLength(3 + 2 * 3 + 1);
  expect(withPoints(outlined, points)).toEqual(outlined);
  const moved = withPoints(
    outlined,
    points.map(({ x, y }) => ({ x: x + 100, y: y - 5 })),
  );
  expect(moved.ingredients[1]).toMatchObject({
    nodes: [{ x: 104, y: -5, inX: 103, inY: -6, outX: 105, outY: -4 }, {}],
  });
  expect(moved.edge).toEqual({ ...outlined.edge, unsure: [{ size: 8, points: [{ x: 107, y: 2 }] }] });
});

test('two are drawn alike whose points alone differ', () => {
  const shifted = withPoints(
    outlined,
    pointsOf(outlined).map(({ x, y }) => ({ x: x * 2, y })),
  );
  expect(drawnAlike(outlined, shifted)).toBe(true);
  expect(drawnAlike(outlined, { ...shifted, edge: { ...shifted.edge, featherPx: 3 } })).toBe(false);
  expect(drawnAlike(outlined, { ...shifted, ingredients: shifted.ingredients.slice(0, 1) })).toBe(false);
});

test('what is chosen by more than outlines has no points of its own', () => {
  expect(isOutlined(outlined)).toBe(true);
  expect(
    isOutlined({
      ...outlined,
      ingredients: [...outlined.ingredients, { kind: 'slice', way: 'intersect', far: 0, near: 1 }],
    }),
  ).toBe(false);
});
