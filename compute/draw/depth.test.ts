import { pictureOf, type DepthMap } from '@/core/raster/picture';
import { drawDepthOverPicture } from './depth';

const width = 40;
const height = 30;
const budget = { nearPx: -10, farPx: 20 };
const picture = pictureOf({ width, height }, new Uint8Array(width * height * 4).fill(255), 'straight');
const mapOf = (depth: (x: number, y: number) => number): DepthMap => ({
  width,
  height,
  data: Uint16Array.from({ length: width * height }, (_, i) =>
    Math.round(depth(i % width, Math.floor(i / width)) * 65535),
  ),
});
const drawn = (depth: DepthMap, over: Partial<Parameters<typeof drawDepthOverPicture>[1]>): Uint8ClampedArray => {
  const out = new Uint8ClampedArray(width * height * 4);
  const rect = { left: 0, top: 0, right: width, bottom: height };
  drawDepthOverPicture({ picture, depth, budget }, { strength: 1, contourPx: 5, ...over }, rect, out);
  return out;
};
const at = (out: Uint8ClampedArray, x: number, y: number): number[] =>
  Array.from(out.subarray((y * width + x) * 4, (y * width + x) * 4 + 3));

test('bands: places of one band have one colour, warm in front of the screen and cool behind it', () => {
  // Parallax 20 px at depth 0 to -10 px at depth 1: 0 px at two thirds.
  const out = drawn(
    mapOf((x) => x / (width - 1)),
    { shown: 'bands' },
  );
  const parallax = (x: number): number => 20 - (30 * x) / (width - 1);
  for (let x = 1; x < width; x++) {
    const same = Math.floor(parallax(x) / 5) === Math.floor(parallax(x - 1) / 5);
    expect(JSON.stringify(at(out, x, 5)) === JSON.stringify(at(out, x - 1, 5))).toBe(same);
    const [r, , b] = at(out, x, 5);
    if (Math.abs(parallax(x)) > 0.5) expect(r > b).toBe(parallax(x) < 0);
  }
});

test('relief: a plane has one light, the cosine of the angle at which it is met', () => {
  // Parallax falls by .3 px from column to column: half as steep as the light, which comes from the right.
  const out = drawn(
    mapOf((x) => (0.3 * x) / 30),
    { shown: 'relief', lightDeg: 90, contourPx: 1000 },
  );
  const slope = 0.3 / 0.6;
  const light = (255 * (1 - slope)) / Math.sqrt(2 * (1 + slope * slope));
  for (const [x, y] of [
    [5, 5],
    [20, 15],
    [30, 29],
  ])
    expect(Math.abs(at(out, x, y)[0] - light)).toBeLessThan(1.5);
  // From the other side it lies in the light.
  const other = drawn(
    mapOf((x) => (0.3 * x) / 30),
    { shown: 'relief', lightDeg: 270, contourPx: 1000 },
  );
  expect(at(other, 20, 15)[0]).toBeGreaterThan(at(out, 20, 15)[0] + 50);
});

test('contours lie where parallax passes a whole step, ink on the screen plane', () => {
  const out = drawn(
    mapOf((x) => x / (width - 1)),
    {},
  );
  const parallax = (x: number): number => 20 - (30 * x) / (width - 1);
  for (let x = 0; x < width - 1; x++) {
    const [a, b] = [parallax(x), parallax(x + 1)];
    if (a >= 0 !== b >= 0) expect(at(out, x, 9)[0]).toBe(20);
  }
});
