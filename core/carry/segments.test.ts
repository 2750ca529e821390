import { carriedIn, segmentsOf } from './segments';

test('what lies between keys is one stretch, and what lies before and after them', () => {
  expect(segmentsOf(48, [10, 24, 25, 40], [])).toEqual([
    { first: 0, last: 10, keys: [10] },
    { first: 10, last: 24, keys: [10, 24] },
    { first: 25, last: 40, keys: [25, 40] },
    { first: 40, last: 47, keys: [40] },
  ]);
  expect(carriedIn({ first: 10, last: 13, keys: [10, 13] })).toEqual([11, 12]);
});

test('cuts are never crossed, and a scene without a key stays as it is', () => {
  expect(segmentsOf(60, [0, 35, 39], [20, 30, 50])).toEqual([
    { first: 0, last: 19, keys: [0] },
    { first: 30, last: 35, keys: [35] },
    { first: 35, last: 39, keys: [35, 39] },
    { first: 39, last: 49, keys: [39] },
  ]);
});
