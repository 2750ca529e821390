import { seeded } from '@/tests/support/chance';
import type { DepthMap, Picture16, Picture8, Premultiplied8 } from '../raster/picture';
import { synthesizeView, type ViewGeometry } from './synthesizeView';

// A near disc before a far wall, both with colours that are known everywhere: what each eye sees is known px by px,
// edges mixed
// by how much of a px the disc covers.

const width = 240;
const height = 160;
const wallAt = (x: number, y: number): readonly number[] => [
  150 + 40 * Math.sin(x / 11),
  150 + 40 * Math.cos(y / 9),
  60,
];
const discAt = (x: number, y: number): readonly number[] => [40 + 20 * Math.sin(x / 7), 60, 190 + 30 * Math.cos(y / 8)];
/** How much of a px the disc covers, around a middle. */
const cover = (x: number, y: number, middle: number): number => {
  let n = 0;
  for (let v = 0; v < 8; v++)
    for (let u = 0; u < 8; u++) n += Math.hypot(x + (u - 3.5) / 8 - middle, y + (v - 3.5) / 8 - 80) < 45.3 ? 1 : 0;
  return n / 64;
};
/** What is seen when the disc has moved by so much to the left. */
function truth(moved: number): Premultiplied8 {
  const data = new Uint8Array(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const a = cover(x, y, 120 - moved);
      const f = discAt(x + moved, y);
      const b = wallAt(x, y);
      for (let c = 0; c < 3; c++) data[(y * width + x) * 4 + c] = Math.round(a * f[c] + (1 - a) * b[c]);
      data[(y * width + x) * 4 + 3] = 255;
    }
  return { bits: 8, alpha: 'premultiplied', width, height, data };
}
const source = truth(0);
const depth: DepthMap = {
  width,
  height,
  data: Uint16Array.from({ length: width * height }, (_, i) =>
    cover(i % width, Math.floor(i / width), 120) > 0.5 ? 65535 : 0,
  ),
};
const right: ViewGeometry = { budget: { nearPx: -20, farPx: 0 }, sourceEye: 'centre', eye: 0.5 };
const seen = truth(10);
const deep = (p: Premultiplied8): Picture16<'premultiplied'> => ({
  ...p,
  bits: 16,
  data: Uint16Array.from(p.data, (v) => v * 257),
});

/**
 * Root mean square error over the px within 2 px of the disc's seen edge: on its right, where a gap opens, those of
 * the disc alone.
 */
function edgeError(view: { readonly data: ArrayLike<number> }, unit = 1): number {
  let sum = 0;
  let n = 0;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const r = Math.hypot(x - 120 + 10, y - 80) - 45.3;
      if (Math.abs(r) > 2 || (x > 109 && r > -0.7)) continue;
      for (let c = 0; c < 3; c++)
        sum += (view.data[(y * width + x) * 4 + c] / unit - seen.data[(y * width + x) * 4 + c]) ** 2;
      n += 3;
    }
  return Math.sqrt(sum / n);
}

describe('edges that are parted', () => {
  test('come out mixed as the other eye sees them: a fifth of the error of edges that go with the nearer side', () => {
    const parted = edgeError(synthesizeView(source, depth, right).picture);
    const grown = edgeError(synthesizeView(source, depth, { ...right, edges: 'grown' }).picture);
    expect(parted).toBeLessThan(grown / 5);
    // Colours change by up to 6 a px on either side and are taken from 5 x 5 px.
    expect(parted).toBeLessThan(1.5);
  });

  test('to the left eye as to the right one', () => {
    const mirror = <P extends Premultiplied8>(p: P): P => {
      const data = p.data.slice();
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++)
          data.set(p.data.subarray((y * width + x) * 4, (y * width + x) * 4 + 4), (y * width + width - 1 - x) * 4);
      return { ...p, data };
    };
    const turned = { ...depth, data: depth.data.slice() };
    for (let y = 0; y < height; y++) turned.data.subarray(y * width, (y + 1) * width).reverse();
    const left = mirror(synthesizeView(mirror(source), turned, { ...right, eye: -0.5 }).picture);
    expect(Math.abs(edgeError(left) - edgeError(synthesizeView(source, depth, right).picture))).toBeLessThan(0.3);
  });

  test('in 16 bits as in 8, to a level', () => {
    const eight = synthesizeView(source, depth, right);
    const sixteen = synthesizeView(deep(source), depth, right);
    expect(sixteen.revealedCount).toBe(eight.revealedCount);
    let worst = 0;
    eight.picture.data.forEach((v, i) => {
      worst = Math.max(worst, Math.abs(sixteen.picture.data[i] / 257 - v));
    });
    // Front and behind of 8 bits are rounded to 8 bits each.
    expect(worst).toBeLessThanOrEqual(2);
  });

  test('where black is near as where white is', () => {
    const turned = { ...depth, data: depth.data.map((v) => 65535 - v) };
    const other = { ...right, budget: { nearPx: 0, farPx: -20 } };
    expect(synthesizeView(source, turned, other).picture.data).toEqual(
      synthesizeView(source, depth, right).picture.data,
    );
  });

  test('whoever paints need not say so: depth and colours that change in place are seen anew', () => {
    const chance = seeded(9);
    const map = { ...depth, data: depth.data.slice() };
    const picture = { ...source, data: source.data.slice() };
    synthesizeView(picture, map, right);
    for (let n = 0; n < 6; n++) {
      const x0 = Math.floor(chance() * 180);
      const y0 = Math.floor(chance() * 120);
      for (let y = y0; y < y0 + 20; y++) {
        if (n % 2) map.data.fill(n * 9000, y * width + x0, y * width + x0 + 30);
        else picture.data.fill(n * 40, (y * width + x0) * 4, (y * width + x0 + 30) * 4);
      }
      for (let i = 3; i < picture.data.length; i += 4) picture.data[i] = 255;
      const fresh = synthesizeView(
        { ...picture, data: picture.data.slice() },
        { ...map, data: map.data.slice() },
        right,
      );
      expect(synthesizeView(picture, map, right).picture.data).toEqual(fresh.picture.data);
    }
    // One px is enough.
    map.data[80 * width + 30] = 65535;
    const fresh = synthesizeView(picture, { ...map, data: map.data.slice() }, right);
    expect(synthesizeView(picture, map, right).picture.data).toEqual(fresh.picture.data);
  });

  test('what is clear has none: a plate goes on to its border', () => {
    // A plate of one colour whose map goes on beyond it at another depth.
    const data = new Uint8Array(width * height * 4);
    const map = { width, height, data: new Uint16Array(width * height) };
    for (let i = 0; i < width * height; i++)
      if (i % width >= 80 && i % width < 140) {
        data.set([200, 100, 50, 255], i * 4);
        map.data[i] = 65535;
      }
    const view = synthesizeView({ ...source, data }, map, { ...right, budget: { nearPx: -16, farPx: 0 } }).picture;
    for (let x = 72; x < 131; x++)
      expect([...view.data.subarray((80 * width + x) * 4, (80 * width + x) * 4 + 4)]).toEqual([200, 100, 50, 255]);
    expect(view.data[(80 * width + 70) * 4 + 3]).toBe(0);
    expect(view.data[(80 * width + 133) * 4 + 3]).toBe(0);
  });

  test('a gap shows the ground across the tear that opened it, also where a nearer thing has come before its other end', () => {
    // From left to right: a near red card, a strip of white wall, a blue card that is nearer than the wall and comes
    // before the gap.
    const parts = [
      { end: 100, colour: [220, 30, 30], depth: 65535 },
      { end: 110, colour: [240, 240, 240], depth: 0 },
      { end: width, colour: [30, 30, 220], depth: 40000 },
    ];
    const data = new Uint8Array(width * height * 4);
    const map = { width, height, data: new Uint16Array(width * height) };
    for (let i = 0; i < width * height; i++) {
      const x = i % width;
      const part = parts.find(({ end }) => x < end)!;
      data.set([...part.colour, 255], i * 4);
      map.data[i] = part.depth;
    }
    // Red moves 30 px, the wall not at all, blue 18.3 px: the wall's strip is covered by blue; between 70 and 91
    // nothing was seen.
    const view = synthesizeView({ ...source, data }, map, { ...right, budget: { nearPx: -60, farPx: 0 } }).picture;
    for (let x = 73; x < 89; x++)
      expect([...view.data.subarray((80 * width + x) * 4, (80 * width + x) * 4 + 3)]).toEqual([240, 240, 240]);
  });

  test.each([8, 16] as const)(
    'any size, depth and coverage make a view whose colours never exceed their coverage: %p bits',
    (bits) => {
      const chance = seeded(21);
      const most = bits === 8 ? 255 : 65535;
      for (let n = 0; n < 60; n++) {
        const w = 1 + Math.floor(chance() * 40);
        const h = 1 + Math.floor(chance() * 14);
        const size = { width: w, height: h };
        const values = Array.from({ length: w * h }, () => {
          const alpha = chance() < 0.3 ? 0 : Math.floor(chance() * (most + 1));
          return [0, 1, 2].map(() => Math.floor(chance() * (alpha + 1))).concat(alpha);
        }).flat();
        const picture =
          bits === 8
            ? { ...size, bits, alpha: 'premultiplied' as const, data: Uint8Array.from(values) }
            : { ...size, bits, alpha: 'premultiplied' as const, data: Uint16Array.from(values) };
        const map = { ...size, data: Uint16Array.from({ length: w * h }, () => Math.floor(chance() * 4) * 21845) };
        const geometry = {
          budget: { nearPx: -w * chance(), farPx: w * chance() },
          sourceEye: 'centre' as const,
          eye: chance() - 0.5,
          tearPx: 3 * chance(),
          holes: (['fill', 'keep', 'row'] as const)[n % 3],
        };
        const view = synthesizeView<Picture8<'premultiplied'> | Picture16<'premultiplied'>>(picture, map, geometry);
        let revealed = 0;
        for (let i = 0; i < w * h; i++) {
          const [r, g, b, a] = view.picture.data.subarray(i * 4, i * 4 + 4);
          // Front and behind are rounded by themselves.
          expect(Math.max(r, g, b)).toBeLessThanOrEqual(a + 2);
          if (view.revealed.data[i]) {
            revealed++;
            if (geometry.holes === 'keep') expect(a).toBe(0);
          }
        }
        expect(view.revealedCount).toBe(revealed);
      }
    },
  );

  test('far to the right of a very wide picture as at its left', () => {
    const strip = (wide: number, at: number) => {
      const size = { width: wide, height: 6 };
      const near = (x: number): boolean => x >= at && x < at + 12;
      const picture = {
        ...size,
        bits: 8 as const,
        alpha: 'premultiplied' as const,
        data: Uint8Array.from({ length: wide * 24 }, (_, i) => {
          const x = ((i >> 2) % wide) - at;
          if (i % 4 === 3) return 255;
          return near(x + at) ? 30 + x : 200 + (x & 15);
        }),
      };
      const map = { ...size, data: Uint16Array.from({ length: wide * 6 }, (_, i) => (near(i % wide) ? 65535 : 0)) };
      const { data } = synthesizeView(picture, map, { ...right, budget: { nearPx: -16, farPx: 0 } }).picture;
      return [...data.subarray((3 * wide + at - 16) * 4, (3 * wide + at + 24) * 4)];
    };
    expect(strip(36_100, 36_032)).toEqual(strip(100, 32));
  });
});
