import type { Ingredient } from '@/core/matte/ingredients';
import { addFlood, addRegionStroke, changeFlood, shapeOutline, type CutRoom } from './choosing';

/** As much of a room as choosing needs. */
function room(): CutRoom {
  const s = {
    choice: { ingredients: [] as Ingredient[] },
    joining: 'add',
    flood: { tolerance: 10, reach: 0, connected: true },
    region: { side: 'in', size: 8 },
    set(part: object) {
      Object.assign(s, part);
    },
    choose(ingredient: Ingredient, instead = false) {
      const { ingredients } = s.choice;
      s.choice = {
        ingredients: [
          ...(instead && ingredients.at(-1)?.kind === ingredient.kind ? ingredients.slice(0, -1) : ingredients),
          ingredient,
        ],
      };
    },
  };
  return s as unknown as CutRoom;
}

test('strokes of region paint gather in one ingredient until something else is chosen', () => {
  const s = room();
  addRegionStroke(s, [
    { x: 1, y: 1 },
    { x: 1.2, y: 1 },
    { x: 9, y: 1 },
  ]);
  s.region.side = 'out';
  addRegionStroke(s, [{ x: 50, y: 50 }]);
  expect(s.choice.ingredients).toEqual([
    {
      kind: 'region',
      way: 'add',
      strokes: [
        {
          side: 'in',
          size: 8,
          points: [
            { x: 1, y: 1 },
            { x: 9, y: 1 },
          ],
        },
        { side: 'out', size: 8, points: [{ x: 50, y: 50 }] },
      ],
    },
  ]);
  addFlood(s, { x: 3.14159, y: 2 });
  addRegionStroke(s, [{ x: 5, y: 5 }]);
  expect(s.choice.ingredients.map((i) => i.kind)).toEqual(['region', 'flood', 'region']);
});

test('a flood’s tolerance is changed after the click, and only of the last flood', () => {
  const s = room();
  addFlood(s, { x: 1, y: 1 });
  addFlood(s, { x: 9, y: 9 });
  changeFlood(s, { tolerance: 99, reach: 2, connected: false });
  expect(s.choice.ingredients).toMatchObject([{ tolerance: 10 }, { x: 9, tolerance: 99, reach: 2, connected: false }]);
});

test('a rectangle has four corners; an ellipse leaves its curve by a tenth of a px at most', () => {
  expect(shapeOutline('rectangle', { x: 9, y: 8 }, { x: 1, y: 2 })).toHaveLength(4);
  const points = shapeOutline('ellipse', { x: 0, y: 0 }, { x: 400, y: 200 });
  points.forEach((p, n) => {
    expect(((p.x - 200) / 200) ** 2 + ((p.y - 100) / 100) ** 2).toBeCloseTo(1, 9);
    const q = points[(n + 1) % points.length];
    const mid = { x: (p.x + q.x) / 2, y: (p.y + q.y) / 2 };
    expect((1 - Math.hypot((mid.x - 200) / 200, (mid.y - 100) / 100)) * 200).toBeLessThan(0.11);
  });
});
