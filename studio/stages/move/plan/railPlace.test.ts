import type { Vector } from '@/core/camera/pose';
import { barOf, movedOnRail, onRail, railFor } from './railPlace';

const drift: readonly Vector[] = [
  [0, 0, 0],
  [0.2, 0.1, 0.34],
];

test('a move lies on the rail as large as it may; places go there and back', () => {
  const rail = railFor(drift, 'columns');
  // 0.34 m forwards must fit into 44 css px: 75 to the metre do, 150 would not.
  expect(rail.perMetre).toBe(75);
  const a = onRail(rail, drift[0]);
  const b = onRail(rail, drift[1]);
  expect([b.x - a.x, a.y - b.y].map((v) => Math.round(v * 10) / 10)).toEqual([15, 25.5]);
  expect(movedOnRail(rail, drift[0], b.x - a.x, b.y - a.y)).toEqual([0.2, 0, 0.34]);
});

test('from the side, up lies at the left, as the picture’s top does', () => {
  const rail = railFor(drift, 'rows');
  expect(onRail(rail, drift[1]).x).toBeLessThan(onRail(rail, drift[0]).x);
  expect(movedOnRail(rail, [0.2, 0, 0], -7.5, 0)).toEqual([0.2, 0.1, 0]);
});

test('the bar beside it is a round length of some css px', () => {
  expect(barOf(railFor(drift, 'columns'))).toBe(0.2);
  expect(barOf(railFor([[0, 0, 0]], 'columns'))).toBe(0.05);
});
