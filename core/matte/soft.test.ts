import type { Mask, Picture8 } from '../raster/picture';
import { boxMean } from '../raster/box';
import { cleanEdgeColour } from './edgeColour';
import { growToSimilar } from './grow';
import { guidedMatte } from './guidedMatte';
import { findRim } from './rim';
import { UNSURE } from './trimap';

const picture = (width: number, height: number, colour: (x: number, y: number) => readonly number[]): Picture8 => {
  const data = new Uint8Array(width * height * 4);
  for (let i = 0; i < width * height; i++)
    data.set([...colour(i % width, Math.floor(i / width)), 255].slice(-4), i * 4);
  return { bits: 8 as const, alpha: 'straight' as const, width, height, data };
};
const mask = (width: number, height: number, value: (x: number, y: number) => number): Mask => ({
  width,
  height,
  data: Uint8Array.from({ length: width * height }, (_, i) => value(i % width, Math.floor(i / width))),
});

test('the mean over a box is that of its pixels, clipped at the border', () => {
  const plane = Float32Array.from({ length: 77 }, (_, i) => (i * 37) % 11);
  const out = boxMean(plane, 11, 7, 2);
  for (let y = 0; y < 7; y++)
    for (let x = 0; x < 11; x++) {
      let sum = 0;
      let n = 0;
      for (let v = Math.max(0, y - 2); v <= Math.min(6, y + 2); v++)
        for (let u = Math.max(0, x - 2); u <= Math.min(10, x + 2); u++) {
          sum += plane[v * 11 + u];
          n++;
        }
      expect(out[y * 11 + x]).toBeCloseTo(sum / n, 4);
    }
});

describe('growing to similar colour', () => {
  const stripes = picture(60, 20, (x) => [[100, 112, 160][Math.floor(x / 20)], 40, 40]);
  const seed = mask(60, 20, (x) => (x < 5 ? 255 : 0));
  const columns = (m: Mask): number => m.data.subarray(0, 60).reduce((a, v) => a + (v ? 1 : 0), 0);
  test('reaches as far as colours are alike, and no farther than asked', () => {
    expect(columns(growToSimilar(stripes, seed, 0, 500))).toBe(20);
    expect(columns(growToSimilar(stripes, seed, 16, 500))).toBe(40);
    expect(columns(growToSimilar(stripes, seed, 70, 500))).toBe(60);
    expect(columns(growToSimilar(stripes, seed, 16, 7))).toBe(12);
    expect(growToSimilar(stripes, seed, 16, 0)).toEqual(seed);
  });
  test('a tolerance out of range is named', () => {
    expect(() => growToSimilar(stripes, seed, 300, 5)).toThrow('The tolerance is 300');
  });
});

describe('the quick matte', () => {
  // Two plain colours mixed along a slanting ramp: the guide is a linear function of coverage, so that the filter can find it.
  const cover = (x: number, y: number): number => Math.min(1, Math.max(0, (x + 0.3 * y - 30) / 12));
  const mixed = picture(80, 40, (x, y) =>
    [40 + 180 * cover(x, y), 60 + 100 * cover(x, y), 200 - 150 * cover(x, y)].map(Math.round),
  );
  const trimap = mask(80, 40, (x, y) => {
    const at = x + 0.3 * y;
    if (at < 26) return 0;
    return at > 46 ? 255 : UNSURE;
  });
  test('comes near the true coverage of a mixed edge and keeps sure pixels', () => {
    const out = guidedMatte(mixed, trimap);
    let worst = 0;
    for (let y = 8; y < 32; y++)
      for (let x = 0; x < 80; x++) {
        const t = trimap.data[y * 80 + x];
        if (t !== UNSURE) expect(out.data[y * 80 + x]).toBe(t);
        else worst = Math.max(worst, Math.abs(out.data[y * 80 + x] / 255 - cover(x, y)));
      }
    expect(worst).toBeLessThan(0.2);
  });
  test('nothing unsure is nothing to do', () => {
    const sure = mask(80, 40, (x) => (x < 40 ? 255 : 0));
    expect(guidedMatte(mixed, sure)).toEqual(sure);
  });
});

describe('a rim', () => {
  // A red disc whose edge lets a white ground through over 3 px.
  const far = (x: number, y: number): number => Math.hypot(x - 40, y - 40);
  const through = (x: number, y: number): number => Math.min(1, Math.max(0, (far(x, y) - 24) / 3));
  const disc = picture(80, 80, (x, y) => {
    const t = through(x, y);
    return [180 + 75 * t, 30 + 225 * t, 30 + 225 * t].map(Math.round);
  });
  test('is found all around where the matte is cut too wide, and none where it is right and its colours are cleaned', () => {
    const wide = findRim(
      disc,
      disc,
      mask(80, 80, (x, y) => (far(x, y) < 27 ? 255 : 0)),
    );
    expect(wide.count).toBeGreaterThan(2 * Math.PI * 25);
    const soft = mask(80, 80, (x, y) => Math.round(255 * (1 - through(x, y))));
    const clean = cleanEdgeColour(
      disc,
      Float32Array.from(soft.data, (v) => v / 255),
    );
    const right = findRim(clean, disc, soft);
    expect(right.edge).toBeGreaterThan(100);
    expect(right.count).toBe(0);
    expect(findRim(disc, disc, soft).count).toBeGreaterThan(0);
  });
  test('is not seen where plate and ground have one colour', () => {
    const even = picture(80, 80, () => [90, 90, 90]);
    expect(
      findRim(
        even,
        even,
        mask(80, 80, (x, y) => (far(x, y) < 27 ? 255 : 0)),
      ).count,
    ).toBe(0);
  });
});
