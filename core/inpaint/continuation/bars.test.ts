import { barsInto } from './bars';
import type { Ground } from './ground';
import { barsBefore, layBars } from './layBars';

const width = 160;
const height = 120;
const inHole = (x: number, y: number): boolean => x >= 60 && x < 100 && y >= 40 && y < 80;

function ground(grey: (x: number, y: number) => number): Ground {
  const count = width * height;
  const colours = new Float32Array(count * 3);
  const hole = new Uint8Array(count);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      hole[i] = inHole(x, y) ? 1 : 0;
      for (let c = 0; c < 3; c++) colours[i * 3 + c] = hole[i] ? 160 : grey(x, y);
    }
  const known = hole.map((v) => 1 - v);
  return { width, height, colours, known, from: known, hole };
}
/** A dark bar, 6 px wide, that falls by a fifth of the way; its distance from a place. */
const offBar = (x: number, y: number): number => Math.abs(y - 44 - 0.2 * (x - 60)) / Math.hypot(1, 0.2);
const barred = ground((x, y) => 160 - 110 * Math.min(1, Math.max(0, 3.5 - offBar(x, y))));
const at = (colours: Float32Array, x: number, y: number): number => colours[(y * width + x) * 3];

describe('bars that meet a hole', () => {
  test('are found at both ends of a bar, with their way into the hole and their width', () => {
    const bars = barsInto(barred);
    expect(bars).toHaveLength(2);
    const [left, right] = [...bars].sort((p, q) => p.x - q.x);
    expect(Math.abs(left.x - 60)).toBeLessThan(2);
    expect(Math.abs(right.x - 99)).toBeLessThan(2);
    for (const { x, y, half, contrast } of bars) {
      expect(offBar(x, y)).toBeLessThan(1.5);
      expect(half).toBeGreaterThanOrEqual(2);
      expect(half).toBeLessThanOrEqual(4);
      expect(contrast).toBeLessThan(-90);
    }
    expect(left.ux).toBeGreaterThan(0.95);
    expect(right.ux).toBeLessThan(-0.95);
    // Told by steps from px to px: within 5 degrees.
    expect(Math.abs(Math.atan2(left.uy, left.ux) - Math.atan(0.2))).toBeLessThan((5 * Math.PI) / 180);
  });

  test('an edge between two tones, a wide band and a plain wall are none', () => {
    for (const other of [
      (_x: number, y: number) => (y < 60 ? 50 : 160),
      (_x: number, y: number) => (Math.abs(y - 60) < 14 ? 50 : 160),
      () => 160,
    ])
      expect(barsInto(ground(other))).toEqual([]);
  });

  test('what lies beside a bar is told apart from it', () => {
    const before = barsBefore(barred, barsInto(barred));
    let beside = 0;
    before.forEach((v, i) => {
      const [x, y] = [i % width, Math.floor(i / width)];
      if (!v) return;
      expect(inHole(x, y)).toBe(false);
      if (offBar(x, y) > 7) beside++;
    });
    expect(before[45 * width + 57]).toBe(1);
    expect(beside).toBeLessThan(5);
  });
});

describe('laid through the hole', () => {
  test('two ends of one bar meet: it goes on straight between them, and nothing else changes', () => {
    const colours = Float32Array.from(barred.colours);
    layBars(barred, barsInto(barred), colours);
    for (let x = 62; x < 98; x++)
      for (let y = 40; y < 80; y++) {
        const off = offBar(x, y);
        if (off < 1.5) expect([x, y, at(colours, x, y) < 75]).toEqual([x, y, true]);
        if (off > 5) expect(at(colours, x, y)).toBe(160);
      }
    for (let i = 0; i < barred.known.length; i++)
      if (barred.known[i]) expect(colours[i * 3]).toBe(barred.colours[i * 3]);
  });

  test('a bar that meets no other fades', () => {
    const single = ground((x, y) => (x < 80 && Math.abs(y - 60) < 3 ? 50 : 160));
    const colours = Float32Array.from(single.colours);
    const bars = barsInto(single);
    expect(bars).toHaveLength(1);
    layBars(single, bars, colours);
    expect(at(colours, 61, 60)).toBeLessThan(80);
    const along = [62, 66, 70, 74].map((x) => at(colours, x, 60));
    expect([...along].sort((p, q) => p - q)).toEqual(along);
    expect(at(colours, 95, 60)).toBe(160);
  });

  test('ends that point past each other, or lie far apart, are two bars', () => {
    const past = ground((x, y) => (Math.abs(y - (x < 80 ? 46 : 74)) < 3 ? 50 : 160));
    const colours = Float32Array.from(past.colours);
    layBars(past, barsInto(past), colours);
    expect(at(colours, 80, 60)).toBe(160);
  });
});
