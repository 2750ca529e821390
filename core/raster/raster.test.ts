import { seeded } from '@/tests/support/chance';
import { narrowed, widened } from './bits';
import { boundsOf } from './bounds';
import { boxMean } from './box';
import { cropPicture, cropPlane } from './crop';
import { blurMask, gaussianWeights } from './gaussian';
import { nearestSeed } from './nearest';
import type { Picture8 } from './picture';

describe('bounds', () => {
  test('are the smallest rectangle that holds every pixel meant, with room around it only within the raster', () => {
    const is = new Set([2 * 10 + 3, 5 * 10 + 8]);
    expect(boundsOf(10, 8, (i) => is.has(i))).toEqual({ left: 3, top: 2, right: 9, bottom: 6 });
    expect(boundsOf(10, 8, (i) => is.has(i), 2)).toEqual({ left: 1, top: 0, right: 10, bottom: 8 });
  });
  test('of one corner pixel are that pixel; of none there are none', () => {
    expect(boundsOf(7, 5, (i) => i === 34)).toEqual({ left: 6, top: 4, right: 7, bottom: 5 });
    expect(boundsOf(7, 5, () => false)).toBeUndefined();
  });
});

describe('a crop', () => {
  const picture: Picture8 = {
    bits: 8 as const,
    alpha: 'straight' as const,
    width: 4,
    height: 3,
    data: Uint8Array.from({ length: 48 }, (_, i) => i),
  };
  test('holds the rectangle’s own pixels, row by row', () => {
    expect(cropPicture(picture, { left: 1, top: 1, right: 3, bottom: 3 })).toEqual({
      bits: 8,
      alpha: 'straight',
      width: 2,
      height: 2,
      data: Uint8Array.of(20, 21, 22, 23, 24, 25, 26, 27, 36, 37, 38, 39, 40, 41, 42, 43),
    });
    expect(cropPicture(picture, { left: 0, top: 0, right: 4, bottom: 3 })).toEqual(picture);
  });
  test('of one channel keeps its kind: 8 bits stay 8, 16 stay 16', () => {
    const mask = cropPlane(
      { width: 3, height: 2, data: Uint8Array.of(1, 2, 3, 4, 5, 6) },
      { left: 1, top: 0, right: 3, bottom: 2 },
    );
    expect(mask).toEqual({ width: 2, height: 2, data: Uint8Array.of(2, 3, 5, 6) });
    expect(
      cropPlane({ width: 2, height: 1, data: Uint16Array.of(300, 70) }, { left: 0, top: 0, right: 1, bottom: 1 }).data,
    ).toEqual(Uint16Array.of(300));
  });
});

describe('the nearest seed', () => {
  const width = 23;
  const height = 17;
  /** Distances by trying all seeds. */
  const bruteForce = (seeds: readonly number[], i: number): number =>
    Math.min(...seeds.map((s) => Math.hypot((s % width) - (i % width), Math.floor(s / width) - Math.floor(i / width))));

  test.each([1, 2, 3, 4])('is within a pixel of the nearest of all, by trying all (seed %i)', (seed) => {
    const chance = seeded(seed);
    const seeds = Array.from({ length: 3 + seed * 4 }, () => Math.floor(chance() * width * height));
    const is = new Set(seeds);
    const from = nearestSeed(width, height, (i) => is.has(i));
    for (let i = 0; i < from.length; i++) {
      expect(is.has(from[i])).toBe(true);
      expect(bruteForce([from[i]], i) - bruteForce(seeds, i)).toBeLessThan(1);
    }
  });
  test('of a seed is itself; of a straight border of seeds it is the one straight across', () => {
    const from = nearestSeed(width, height, (i) => i % width < 5);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) expect(from[y * width + x]).toBe(y * width + Math.min(x, 4));
  });
  test('without any seed there is none', () => {
    expect(nearestSeed(4, 3, () => false)).toEqual(new Int32Array(12).fill(-1));
  });
});

describe('8 and 16 bits', () => {
  test('white stays white, and every 8-bit value comes back', () => {
    const all = Uint8Array.from({ length: 256 }, (_, i) => i);
    expect(widened(all)[255]).toBe(65535);
    expect(narrowed(widened(all))).toEqual(all);
  });
  test('16 bits are narrowed to the nearest: half a step up goes up', () => {
    expect(narrowed(Uint16Array.of(0, 128, 129, 257 + 128, 257 + 129, 65535))).toEqual(
      Uint8Array.of(0, 0, 1, 1, 2, 255),
    );
  });
});

describe('the mean over a box', () => {
  test('of a window larger than the raster is the mean of everything', () => {
    const plane = Float32Array.of(1, 2, 3, 4, 5, 9);
    for (const v of boxMean(plane, 3, 2, 9)) expect(v).toBeCloseTo(4, 5);
  });
});

describe('the Gaussian', () => {
  test('has weights that sum to 1, are the same both ways, and fall by exp(-1/2) at one sigma', () => {
    const w = gaussianWeights(4);
    const middle = (w.length - 1) / 2;
    expect(w.length).toBe(25);
    expect(w.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 5);
    for (let n = 0; n <= middle; n++) expect(w[n]).toBeCloseTo(w[w.length - 1 - n], 7);
    expect(w[middle + 4] / w[middle]).toBeCloseTo(Math.exp(-0.5), 5);
  });
  test('blurs a straight edge to the normal distribution’s integral', () => {
    // Phi(-1) = 0.158655, Phi(1) = 0.841345 (tables of the normal distribution); an edge lies half a pixel beside a centre.
    const sigma = 10;
    const width = 120;
    const mask = {
      width,
      height: 3,
      data: Uint8Array.from({ length: width * 3 }, (_, i) => (i % width < 60 ? 0 : 255)),
    };
    const { data } = blurMask(mask, sigma);
    const at = (x: number): number => (data[width + x] + data[width + x - 1]) / 2 / 255;
    // Cut at 3 sigma the tails miss 0.27 %, and values are whole numbers of 255: a tolerance of 0.0027 + 1/255.
    expect(Math.abs(at(60) - 0.5)).toBeLessThan(1 / 255);
    expect(Math.abs(at(70) - 0.841345)).toBeLessThan(0.0027 + 1 / 255);
    expect(Math.abs(at(50) - 0.158655)).toBeLessThan(0.0027 + 1 / 255);
  });
});
