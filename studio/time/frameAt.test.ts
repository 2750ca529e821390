import { frameAt } from './frameAt';

const played = (mode: Parameters<typeof frameAt>[3], first: number, last: number): number[] =>
  Array.from({ length: 9 }, (_, n) => frameAt(n, first, last, mode));

test('once stops at the last frame, a loop begins again, there and back turns at both ends', () => {
  expect(played('once', 3, 6)).toEqual([3, 4, 5, 6, 6, 6, 6, 6, 6]);
  expect(played('loop', 3, 6)).toEqual([3, 4, 5, 6, 3, 4, 5, 6, 3]);
  expect(played('there-and-back', 3, 6)).toEqual([3, 4, 5, 6, 5, 4, 3, 4, 5]);
  expect(played('there-and-back', 5, 5)).toEqual(new Array(9).fill(5));
});
