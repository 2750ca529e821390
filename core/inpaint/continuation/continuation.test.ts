import { copyPicture, pictureOf, type Mask, type Straight } from '../../raster/picture';
import { fillHole } from '../fillHole';
import { continueFill } from './continueFill';
import { Fourier, powerOfTwo } from './fourier';
import { findOffsets, borderPlaces } from './offsets';
import type { Ground } from './ground';

const width = 200;
const height = 140;
const count = width * height;
/** Grain that repeats nowhere: a plain product of the place would. */
const noise = (i: number): number => {
  let v = Math.imul(i ^ 0x9e3779b9, 0x85ebca6b);
  v = Math.imul(v ^ (v >>> 13), 0xc2b2ae35);
  return ((v ^ (v >>> 16)) >>> 8) & 255;
};
const picture = (value: (x: number, y: number) => number, full = 1): Straight => {
  const data = full === 1 ? new Uint8Array(count * 4) : new Uint16Array(count * 4);
  for (let i = 0; i < count; i++) {
    const v = Math.round(value(i % width, Math.floor(i / width)) * full);
    data.set([v, v, v, 255 * full], i * 4);
  }
  return data instanceof Uint16Array
    ? pictureOf({ width, height }, data, 'straight')
    : pictureOf({ width, height }, data, 'straight');
};
const inHole = (x: number, y: number): boolean => x >= 80 && x < 120 && y >= 50 && y < 90;
const hole: Mask = {
  width,
  height,
  data: Uint8Array.from({ length: count }, (_, i) => (inHole(i % width, Math.floor(i / width)) ? 255 : 0)),
};
/** A wall of tiles, 24 px wide and 16 high, each with its own light. */
const tiles = (x: number, y: number): number =>
  x % 24 < 3 || y % 16 < 3 ? 40 : 150 + 60 * Math.sin(((x % 24) / 24) * 5) * Math.cos(((y % 16) / 16) * 4);
const without = (made: Straight): Straight => {
  const out = copyPicture(made);
  hole.data.forEach((v, i) => {
    if (v) out.data.fill(0, i * 4, i * 4 + 3);
  });
  return out;
};
function worst(a: Straight, b: Straight, inside: boolean): number {
  let most = 0;
  for (let i = 0; i < count; i++)
    if (hole.data[i] > 0 === inside)
      for (let c = 0; c < 4; c++) most = Math.max(most, Math.abs(a.data[i * 4 + c] - b.data[i * 4 + c]));
  return most;
}

describe('transforms', () => {
  test('a wave is one pair of frequencies, and comes back', () => {
    const fourier = new Fourier(32, 16, 1);
    const { re, im } = fourier.plane(0);
    const [real, imaginary] = [fourier.values(re), fourier.values(im)];
    for (let y = 0; y < 16; y++)
      for (let x = 0; x < 32; x++) real[y * 32 + x] = Math.cos((2 * Math.PI * (3 * x + 2 * y * 2)) / 32);
    const before = real.slice();
    fourier.transform({ re, im });
    // 3 turns across, 2 down: half of all at (3, 2) and at its mirror; single precision sums 512 values.
    expect(real[2 * 32 + 3]).toBeCloseTo(256, 3);
    expect(real[14 * 32 + 29]).toBeCloseTo(256, 3);
    expect(Math.abs(real[0]) + Math.abs(imaginary[2 * 32 + 3])).toBeLessThan(1e-3);
    fourier.invert({ re, im });
    real.forEach((v, n) => {
      expect(v / 512).toBeCloseTo(before[n], 5);
    });
    expect([1, 16, 17, 200].map(powerOfTwo)).toEqual([16, 16, 32, 256]);
  });
  test('columns that hold nothing need not be looked at', () => {
    const [all, some] = [new Fourier(64, 32, 1), new Fourier(64, 32, 1)];
    const spectra = [all, some].map((fourier, n) => {
      const { re, im } = fourier.plane(0);
      for (const part of [re, im]) fourier.values(part).forEach((_, i, p) => (p[i] = 0));
      for (let y = 0; y < 32; y++)
        for (let x = 37; x < 50; x++) {
          fourier.values(re)[y * 64 + x] = noise(y * 64 + x);
          fourier.values(im)[y * 64 + x] = noise(x * 77 + y);
        }
      fourier.transform({ re, im }, n === 0 ? undefined : { first: 37, end: 50 });
      return [...fourier.values(re), ...fourier.values(im)];
    });
    expect(spectra[1]).toEqual(spectra[0]);
  });
});

describe('offsets', () => {
  const wall = picture(tiles);
  const known = hole.data.map((v) => (v ? 0 : 1));
  const colours = new Float32Array(count * 3);
  for (let i = 0; i < count; i++) for (let c = 0; c < 3; c++) colours[i * 3 + c] = known[i] ? wall.data[i * 4] : 0;
  const ground: Ground = { width, height, colours, known, from: known, hole: known.map((v) => 1 - v) };
  test('windows stand along the border, apart', () => {
    const places = borderPlaces(ground, 10);
    expect(places.length).toBeGreaterThan(10);
    places.forEach((a, n) => {
      expect(known[a]).toBe(0);
      for (const b of places.slice(0, n))
        expect(
          Math.max(Math.abs((a % width) - (b % width)), Math.abs(Math.floor(a / width) - Math.floor(b / width))),
        ).toBeGreaterThanOrEqual(10);
    });
  });
  test('of a tiled wall are whole tiles', () => {
    const best = findOffsets(ground).slice(0, 12);
    expect(best.length).toBe(12);
    for (const { dx, dy, rank } of best) {
      expect([Math.abs(dx % 24), Math.abs(dy % 16)]).toEqual([0, 0]);
      expect(rank).toBeLessThan(1e-6);
    }
  });
});

describe('going on', () => {
  test.each([
    ['8 bits', 1],
    ['16 bits', 257],
  ])('a tiled wall goes on through the hole as it was; beside it nothing changes, %s', (_, full) => {
    const wall = picture(tiles, full);
    const filled = continueFill(without(wall), hole);
    expect(worst(filled, wall, false)).toBe(0);
    // Every tile is like the others: what is taken is what was there, rounded.
    expect(worst(filled, wall, true)).toBeLessThanOrEqual(full * 1);
  });

  test('faint noise repeats nothing: it is filled as smoothly as can be', () => {
    const grain = picture((x, y) => 120 + noise(y * width + x) / 32);
    const filled = continueFill(without(grain), hole);
    const smooth = fillHole(without(grain), hole, 'smooth');
    expect(worst(filled, smooth, true)).toBeLessThanOrEqual(6);
  });

  test('only from where it may be taken', () => {
    // Two walls beside each other: the right one is brighter.
    const walls = picture((x, y) => tiles(x, y) * (x >= 130 ? 1 : 0.5));
    const right: Mask = {
      width,
      height,
      data: Uint8Array.from({ length: count }, (_, i) => (i % width >= 130 ? 255 : 0)),
    };
    const free = continueFill(without(walls), hole);
    expect(worst(free, walls, true)).toBeLessThanOrEqual(1);
    const asked = continueFill(without(walls), hole, { sampleFrom: right });
    expect(asked).not.toEqual(free);
    const nothing: Mask = { width, height, data: new Uint8Array(count) };
    expect(() => continueFill(walls, hole, { sampleFrom: nothing })).toThrow('nothing to sample from');
    expect(() => continueFill(walls, nothing)).toThrow('There is nothing to fill');
  });

  test('tells how far it is, never goes back, and can be given up', () => {
    const wall = picture(tiles);
    const shares: number[] = [];
    continueFill(without(wall), hole, {
      onProgress: (share) => {
        shares.push(share);
      },
    });
    for (let n = 1; n < shares.length; n++) expect(shares[n]).toBeGreaterThanOrEqual(shares[n - 1]);
    expect(shares.at(-1)).toBe(1);
    expect(() =>
      continueFill(without(wall), hole, {
        onProgress: () => {
          throw new Error('stopped');
        },
      }),
    ).toThrow('stopped');
  });
});
