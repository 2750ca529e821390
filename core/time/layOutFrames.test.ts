import { layOutFrames } from './layOutFrames';

const every = (count: number, step: number): number[] => Array.from({ length: count }, (_, n) => n * step);

test('pictures that come evenly are frames, whatever a file has rounded', () => {
  // Matroska counts in milliseconds.
  const rounded = every(240, 1001 / 24000).map((t) => Math.round(t * 1000) / 1000);
  expect(layOutFrames(rounded, 0.042)).toMatchObject({ rate: { numerator: 24000, denominator: 1001 }, even: true });
  expect(layOutFrames(every(1500, 0.04), 0.04)).toMatchObject({ rate: { numerator: 25, denominator: 1 }, even: true });
  // A rate that nobody has is taken as the file names it.
  const odd = layOutFrames(every(90, 1 / 17), 1 / 17, [{ numerator: 17, denominator: 1 }]);
  expect(odd).toMatchObject({ rate: { numerator: 17, denominator: 1 }, even: true });
  expect(odd.shows).toEqual(every(90, 1));
  expect(layOutFrames([0.5], 0.1)).toMatchObject({ shows: [0], even: true });
});

test('a minute at 30 is not taken for one at 29.97', () => {
  expect(layOutFrames(every(1800, 1 / 30), 1 / 30).rate).toEqual({ numerator: 30, denominator: 1 });
  expect(layOutFrames(every(1800, 1001 / 30000), 1001 / 30000).rate).toEqual({ numerator: 30000, denominator: 1001 });
});

test('pictures that come unevenly are repeated or left out, each frame shows what is seen in its middle', () => {
  // At 25 a second: one is seen three times as long, two come too soon.
  const { rate, shows, even } = layOutFrames([0, 0.04, 0.16, 0.17, 0.18, 0.24, 0.28, 0.32], 0.04);
  expect(rate).toEqual({ numerator: 25, denominator: 1 });
  expect(even).toBe(false);
  expect(shows).toEqual([0, 1, 1, 1, 4, 4, 5, 6, 7]);
});
