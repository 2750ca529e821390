import type { Straight8 } from './picture';
import { matchColour } from './matchColour';
import { placePiece, type Placement } from './placePiece';

const piece: Straight8 = {
  bits: 8 as const,
  alpha: 'straight' as const,
  width: 6,
  height: 4,
  data: Uint8Array.from({ length: 96 }, (_, i) => ((i & 3) === 3 ? Math.sign((i >> 2) % 6) * 255 : (i * 29) % 251)),
};
const still: Placement = { x: 13, y: 12, scale: 1, turn: 0, flipAcross: false, flipDown: false };
const canvas = { left: 0, top: 0, scale: 1, width: 30, height: 24 };
const at = (p: Straight8, x: number, y: number): number[] => [
  ...p.data.slice((y * p.width + x) * 4, (y * p.width + x) * 4 + 4),
];

describe('placing a piece', () => {
  test('unscaled on whole pixels it comes out unchanged', () => {
    const out = placePiece(piece, still, canvas);
    for (let y = 0; y < 4; y++) for (let x = 1; x < 6; x++) expect(at(out, 10 + x, 10 + y)).toEqual(at(piece, x, y));
    expect([...out.data].reduce((a, v, i) => a + ((i & 3) === 3 ? v : 0), 0)).toBe(20 * 255);
  });
  test('flips and quarter turns move pixels without changing them', () => {
    const across = placePiece(piece, { ...still, flipAcross: true }, canvas);
    const down = placePiece(piece, { ...still, flipDown: true }, canvas);
    const turned = placePiece(piece, { ...still, turn: 90 }, canvas);
    for (let y = 0; y < 4; y++)
      for (let x = 1; x < 6; x++) {
        expect(at(across, 15 - x, 10 + y)).toEqual(at(piece, x, y));
        expect(at(down, 10 + x, 13 - y)).toEqual(at(piece, x, y));
        // Clockwise: the upper left corner comes to the upper right.
        expect(at(turned, 14 - y, 9 + x)).toEqual(at(piece, x, y));
      }
  });
  test('scaled by two it covers four times as much; by a quarter, colours stay those of the piece', () => {
    const even: Straight8 = {
      bits: 8 as const,
      alpha: 'straight' as const,
      width: 40,
      height: 40,
      data: new Uint8Array(6400).map((_, i) => [200, 100, 50, 255][i & 3]),
    };
    const cover = (p: Straight8): number => [...p.data].reduce((a, v, i) => a + ((i & 3) === 3 ? v / 255 : 0), 0);
    expect(
      cover(placePiece(even, { ...still, x: 50, y: 50, scale: 2 }, { ...canvas, width: 100, height: 100 })),
    ).toBeCloseTo(6400, -2);
    const small = placePiece(even, { ...still, scale: 0.25 }, canvas);
    expect(cover(small)).toBeCloseTo(100, -1);
    expect(at(small, 13, 12)).toEqual([200, 100, 50, 255]);
  });
  test('a window of the canvas at half the size shows the same place', () => {
    const out = placePiece(
      { bits: 8 as const, alpha: 'straight' as const, width: 20, height: 20, data: new Uint8Array(1600).fill(255) },
      { ...still, x: 20, y: 20 },
      { left: 10, top: 10, scale: 0.5, width: 10, height: 10 },
    );
    expect([...out.data].reduce((a, v, i) => a + ((i & 3) === 3 && v === 255 ? 1 : 0), 0)).toBe(100);
  });
  test('a scale out of range is named', () => {
    expect(() => placePiece(piece, { ...still, scale: 0 }, canvas)).toThrow('The scale is 0');
  });
});

test('matched colours have the mean and spread of what lies around', () => {
  const n = 60;
  const ground: Straight8 = {
    bits: 8 as const,
    alpha: 'straight' as const,
    width: n,
    height: n,
    data: new Uint8Array(n * n * 4),
  };
  const placed: Straight8 = {
    bits: 8 as const,
    alpha: 'straight' as const,
    width: n,
    height: n,
    data: new Uint8Array(n * n * 4),
  };
  for (let i = 0; i < n * n; i++) {
    const wave = Math.sin(i * 1.7);
    const x = i % n;
    const y = Math.floor(i / n);
    ground.data.set([100 + 40 * wave, 120 + 20 * wave, 90, 255], i * 4);
    if (x >= 20 && x < 40 && y >= 20 && y < 40) placed.data.set([180 + 20 * wave, 60 + 20 * wave, 200, 255], i * 4);
  }
  const { gain, offset } = matchColour(placed, ground, 15);
  /** Mean and spread of a channel over the pixels that are meant, by adding up. */
  const spreadOf = ({ data }: Straight8, c: number, meant: (x: number, y: number) => boolean) => {
    const values = Array.from({ length: n * n }, (_, i) => i)
      .filter((i) => meant(i % n, Math.floor(i / n)))
      .map((i) => data[i * 4 + c]);
    const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
    return { mean, spread: Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / values.length) };
  };
  const inPiece = (x: number, y: number): boolean => x >= 20 && x < 40 && y >= 20 && y < 40;
  const aside = (v: number): number => Math.max(20 - v, v - 39, 0);
  const around = (x: number, y: number): boolean => !inPiece(x, y) && Math.hypot(aside(x), aside(y)) <= 15;
  for (const c of [0, 1]) {
    const piece = spreadOf(placed, c, inPiece);
    const home = spreadOf(ground, c, around);
    expect(gain[c]).toBeCloseTo(home.spread / piece.spread, 6);
    expect(offset[c] * 255).toBeCloseTo(home.mean - gain[c] * piece.mean, 6);
  }
  const out = placePiece(
    placed,
    { x: 30, y: 30, scale: 1, turn: 0, flipAcross: false, flipDown: false },
    { left: 0, top: 0, scale: 1, width: n, height: n },
    { strength: 1, gain, offset },
  );
  // Every pixel rounds once, by half a step at most; at a gain near 2 many round the same way.
  const lies = spreadOf(out, 0, inPiece);
  const home = spreadOf(ground, 0, around);
  expect(Math.abs(lies.mean - home.mean)).toBeLessThanOrEqual(0.5);
  expect(Math.abs(lies.spread - home.spread)).toBeLessThanOrEqual(0.5);
  expect(out.data[(30 * n + 30) * 4 + 2]).toBe(90);
});
