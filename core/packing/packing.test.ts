import { seeded } from '@/tests/support/chance';
import { anaglyph, ANAGLYPHS } from './anaglyph';
import { PackedPair } from './packedPair';
import { packPair } from './packPair';
import { overUnder, sideBySide } from './sideBySide';

const chance = seeded(5);
const random = (width: number, height: number) => ({
  bits: 8 as const,
  alpha: 'straight' as const,
  width,
  height,
  data: Uint8Array.from({ length: width * height * 4 }, (_, i) => (i % 4 === 3 ? 255 : Math.floor(chance() * 256))),
});

describe('anaglyph', () => {
  // Odd sizes: nothing is a multiple of four pixels.
  const left = random(37, 11);
  const right = random(37, 11);

  test('least squares is the matrix of Dubois (2001) on every pixel, floor and clip, at most 1 of 255 apart', () => {
    const m = [
      [0.456, 0.5, 0.176, -0.043, -0.088, -0.002],
      [-0.04, -0.038, -0.016, 0.378, 0.734, -0.018],
      [-0.015, -0.021, -0.005, -0.072, -0.113, 1.226],
    ].map((r) => r.map((v) => Math.round(v * 65536)));
    const out = anaglyph(left, right, 'red-cyan-least-squares');
    for (let i = 0; i < 37 * 11; i++) {
      const six = [0, 1, 2].map((c) => left.data[i * 4 + c]).concat([0, 1, 2].map((c) => right.data[i * 4 + c]));
      m.forEach((row, c) => {
        const sum = row.reduce((s, k, n) => s + k * six[n], 0);
        expect(Math.abs(out.data[i * 4 + c] - Math.min(255, Math.max(0, Math.floor(sum / 65536))))).toBeLessThanOrEqual(
          1,
        );
      });
      expect(out.data[i * 4 + 3]).toBe(255);
    }
  });

  test('full colour takes red from the left eye and the rest from the right', () => {
    const out = anaglyph(left, right, 'red-cyan-colour');
    for (let i = 0; i < 37 * 11 * 4; i += 4)
      expect([...out.data.slice(i, i + 3)]).toEqual([left.data[i], right.data[i + 1], right.data[i + 2]]);
  });

  test('equal grey eyes stay that grey but for the least-squares tint', () => {
    const grey = {
      bits: 8 as const,
      alpha: 'straight' as const,
      width: 8,
      height: 1,
      data: new Uint8Array(32).fill(128),
    };
    for (const kind of ANAGLYPHS) {
      const [r, g, b] = anaglyph(grey, grey, kind).data;
      // The rows of the least-squares matrix sum to 0.999, 1.000 and 1.000.
      for (const v of [r, g, b]) expect(Math.abs(v - 128)).toBeLessThanOrEqual(1);
    }
  });

  test('more pixels than one turn of the kernel', () => {
    const l = random(300, 301);
    const r = random(300, 301);
    const out = anaglyph(l, r, 'red-cyan-colour');
    const last = 300 * 301 * 4 - 4;
    expect([...out.data.slice(last, last + 3)]).toEqual([l.data[last], r.data[last + 1], r.data[last + 2]]);
  });

  test('refuses eyes of different sizes', () => {
    expect(() => anaglyph(left, random(36, 11), 'red-cyan-grey')).toThrow('37 × 11 px but the right one is 36 × 11 px');
  });
});

describe('side by side and over-under', () => {
  const left = random(5, 3);
  const right = random(5, 3);
  test('put left at the left, and above', () => {
    const wide = sideBySide(left, right);
    const tall = overUnder(left, right);
    expect([wide.width, wide.height, tall.width, tall.height]).toEqual([10, 3, 5, 6]);
    expect([...wide.data.slice(40, 60)]).toEqual([...left.data.slice(20, 40)]);
    expect([...wide.data.slice(60, 80)]).toEqual([...right.data.slice(20, 40)]);
    expect([...tall.data.slice(60)]).toEqual([...right.data]);
  });
  test('refuse straight and premultiplied colours together', () => {
    const multiplied = { ...right, alpha: 'premultiplied' as const };
    expect(() => sideBySide<typeof left | typeof multiplied>(left, multiplied)).toThrow('multiplied by its alpha');
  });
  test('refuse 8 and 16 bits together', () => {
    const deep = { bits: 16 as const, alpha: 'straight' as const, width: 5, height: 3, data: new Uint16Array(60) };
    expect(() => sideBySide<typeof deep | typeof left>(left, deep)).toThrow('8 bits a channel and the other 16');
  });
});

test.each(['side-by-side', 'over-under', 'red-cyan-half-colour'] as const)(
  'pairs packed one after another into the same room are each what they are by themselves (%s)',
  (packing) => {
    const packed = new PackedPair(packing);
    const room = random(6, 4);
    for (let n = 0; n < 3; n++) {
      const [left, right] = [random(6, 4), random(6, 4)];
      // Both views are drawn into one room, as a film's are.
      room.data.set(left.data);
      packed.left(room);
      room.data.set(right.data);
      const both = packed.right(room);
      const alone = packPair(left, right, packing);
      expect(both).toMatchObject({ width: alone.width, height: alone.height });
      expect([...both.data]).toEqual([...alone.data]);
    }
  },
);
