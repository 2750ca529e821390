import type { Mask, Premultiplied8 } from '../raster/picture';
import { softenTears } from './softenTears';

const width = 20;
const row = (f: (x: number) => number): Premultiplied8 => ({
  bits: 8 as const,
  alpha: 'premultiplied' as const,
  width,
  height: 1,
  data: Uint8Array.from({ length: width * 4 }, (_, i) => ((i & 3) === 3 ? 255 : f(i >> 2))),
});
const gap: Mask = { width, height: 1, data: Uint8Array.from({ length: width }, (_, x) => (x >= 10 ? 255 : 0)) };

test('a torn edge becomes a slope as wide as asked for, and nothing else changes', () => {
  const view = row((x) => (x < 10 ? 200 : 0));
  softenTears(view, gap, 3);
  const values = Array.from({ length: width }, (_, x) => view.data[x * 4]);
  // The mean over seven px: each step to the right swaps one of 200 for one of 0, three px to either side of the edge.
  const slope = [6, 5, 4, 3, 2, 1].map((px) => Math.round((px * 200) / 7));
  expect(values).toEqual([...Array<number>(7).fill(200), ...slope, ...Array<number>(7).fill(0)]);
  expect(view.data[9 * 4 + 3]).toBe(255);
});
test('no reach, or no gap, leaves the view as it is', () => {
  const view = row((x) => x * 9);
  const before = view.data.slice();
  softenTears(view, gap, 0.4);
  softenTears(view, { width, height: 1, data: new Uint8Array(width) }, 5);
  expect(view.data).toEqual(before);
});
