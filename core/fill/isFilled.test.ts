import { pictureOf } from '../raster/picture';
import { isFilled } from './isFilled';

const fill = pictureOf(
  { width: 5, height: 1 },
  Uint8Array.from([0, 0, 0, 0, 0, 0, 0, 127, 0, 0, 0, 128, 0, 0, 0, 0, 0, 0, 0, 0]),
  'straight',
);
const all = (scale: number): boolean[] => [0, 1, 2, 3, 4].map((i) => isFilled(fill, i, scale));

test('at full size what is covered by half; smaller also what touches that; without a fill nothing', () => {
  expect(all(1)).toEqual([false, false, true, false, false]);
  expect(all(0.8)).toEqual([false, true, true, true, false]);
  expect(isFilled(undefined, 2, 0.8)).toBe(false);
});
