import { unsureStretches } from './unsure';

test('what is trusted less than the limit is one stretch as long as it goes on; what is not carried is none', () => {
  const trust = [1, 0.9, 0.5, 0.3, 0.55, 0.9, null, 0.2, 1, 0.59];
  expect(unsureStretches(trust, 0.6)).toEqual([
    { first: 2, last: 4, worst: 3 },
    { first: 7, last: 7, worst: 7 },
    { first: 9, last: 9, worst: 9 },
  ]);
  expect(unsureStretches(trust, 0.1)).toEqual([]);
});
