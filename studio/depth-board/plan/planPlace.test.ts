import { acrossOf, apart, downOf, leftOf, type PlanPlace } from './planPlace';

const place: PlanPlace = { axis: 'columns', length: 560, across: 1600 };

test('the source lies between its edges, and places go there and back', () => {
  expect([leftOf(place, -0.5), leftOf(place, 1599.5), downOf(place, 0.25)]).toEqual([17, 193, 140]);
  expect(acrossOf(place, leftOf(place, 400))).toBeCloseTo(400, 9);
});

test('name slips move apart, and stay on the ruler', () => {
  expect(apart([10, 200, 205], 36, 560)).toEqual([10, 200, 236]);
  expect(apart([540, 530], 36, 560)).toEqual([524, 488]);
});
