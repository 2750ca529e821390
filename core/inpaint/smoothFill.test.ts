import { smoothFill } from './smoothFill';

describe('smoothFill', () => {
  const width = 48;
  const height = 40;
  const hole = Uint8Array.from({ length: width * height }, (_, i) => {
    const x = i % width;
    const y = Math.floor(i / width);
    return (x - 24) ** 2 + (y - 20) ** 2 < 180 ? 1 : 0;
  });

  // Harmonic functions are their own membrane: what is known around the hole decides what lies in it.
  test.each([
    ['a plane', (x: number, y: number) => 3 * x - 2 * y + 40],
    ['a saddle', (x: number, y: number) => ((x - 24) ** 2 - (y - 20) ** 2) / 4 + 100],
    ['xy', (x: number, y: number) => ((x - 10) * (y - 5)) / 8],
  ])('fills %s as it is, to half a step of 255', (_name, f) => {
    const values = Float32Array.from({ length: width * height }, (_, i) =>
      hole[i] ? 0 : f(i % width, Math.floor(i / width)),
    );
    smoothFill(values, hole, { width, height, channels: 1, sweeps: 60 });
    expect(
      values.reduce((most, v, i) => Math.max(most, Math.abs(v - f(i % width, Math.floor(i / width)))), 0),
    ).toBeLessThan(0.5);
  });

  test('known values stay, channels do not mix, and an even surrounding gives that value', () => {
    const values = new Float32Array(width * height * 2);
    for (let i = 0; i < hole.length; i++) {
      values[i * 2] = hole[i] ? -50 : 7;
      values[i * 2 + 1] = hole[i] ? 900 : 250;
    }
    smoothFill(values, hole, { width, height, channels: 2 });
    for (let i = 0; i < hole.length; i++) {
      expect(values[i * 2]).toBeCloseTo(7, 3);
      expect(values[i * 2 + 1]).toBeCloseTo(250, 2);
    }
  });

  test('no surroundings at all, or no hole, change nothing', () => {
    const values = Float32Array.of(1, 2, 3, 4);
    smoothFill(values, new Uint8Array(4).fill(1), { width: 2, height: 2, channels: 1 });
    smoothFill(values, new Uint8Array(4), { width: 2, height: 2, channels: 1 });
    expect([...values]).toEqual([1, 2, 3, 4]);
  });
});
