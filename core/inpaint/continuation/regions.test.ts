import type { Mask } from '../../raster/picture';
import { regionsOf } from './regions';

const width = 640;
const height = 640;
/** @param squares left, top and side of each, px */
function maskOf(...squares: readonly (readonly [number, number, number])[]): Mask {
  const data = new Uint8Array(width * height);
  for (const [left, top, side] of squares)
    for (let y = top; y < top + side; y++) data.fill(255, y * width + left, y * width + left + side);
  return { width, height, data };
}

test('what lies far apart are regions of their own, the largest first; together they are the hole', () => {
  const hole = maskOf([40, 40, 70], [420, 100, 120]);
  const regions = regionsOf(hole);
  expect(regions.map(({ data }) => data.reduce((a, v) => a + (v ? 1 : 0), 0))).toEqual([120 ** 2, 70 ** 2]);
  expect(hole.data.map((_, i) => Math.max(...regions.map((r) => r.data[i])))).toEqual(hole.data);
});

test('what lies near belongs together, and a speck goes with the nearest', () => {
  expect(regionsOf(maskOf([40, 40, 70], [140, 40, 70]))).toHaveLength(1);
  // 200 px off, but small.
  const [whole] = regionsOf(maskOf([40, 40, 100], [340, 60, 10]));
  expect(whole.data[65 * width + 345]).toBe(255);
  expect(regionsOf(maskOf())).toEqual([]);
  // Thirteen things apart are one hole.
  const many = Array.from({ length: 13 }, (_, n) => [(n % 5) * 128, Math.floor(n / 5) * 128, 64] as const);
  expect(regionsOf(maskOf(...many.slice(1)))).toHaveLength(12);
  expect(regionsOf(maskOf(...many))).toHaveLength(1);
});
