import { bytes, figure, moment, signed } from './numbers';

test('figures have a true minus, a thin space from five digits on, and never a minus zero', () => {
  expect([figure(1600), figure(12345), figure(-3.25, 1), figure(-0.04, 1), figure(Infinity)]).toEqual([
    '1600',
    '12\u2009345',
    '−3.3',
    '0.0',
    '∞',
  ]);
  expect([signed(5), signed(-5), signed(0), signed(-0.2)]).toEqual(['+5', '−5', '0', '0']);
  expect([bytes(900), bytes(2_400_000), bytes(3_100_000_000)]).toEqual(['0.9 KB', '2.4 MB', '3.10 GB']);
});

test('a moment is the time today and the day before that', () => {
  const now = new Date(2026, 10, 25, 18, 0);
  expect(moment(new Date(2026, 10, 25, 9, 5).toISOString(), now)).toBe('09:05');
  expect(moment(new Date(2026, 10, 2, 9, 5).toISOString(), now)).toBe('2 November');
});
