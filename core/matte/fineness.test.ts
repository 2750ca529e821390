import type { Mask } from '../raster/picture';
import { edgeFineness } from './fineness';

const width = 160;
const height = 120;
const mask = (inside: (x: number, y: number) => boolean): Mask => ({
  width,
  height,
  data: Uint8Array.from({ length: width * height }, (_, i) => (inside(i % width, Math.floor(i / width)) ? 255 : 0)),
});
const disc = (x: number, y: number): boolean => Math.hypot(x - 80, y - 60) < 40;

describe('edgeFineness', () => {
  test('of a smooth outline is next to nothing, also of one that is left out', () => {
    expect(edgeFineness(mask(disc), 8)).toBeLessThan(0.05);
    expect(
      edgeFineness(
        mask((x, y) => !disc(x, y)),
        8,
      ),
    ).toBeLessThan(0.05);
  });

  test('of twigs and of gaps as thin as they is all', () => {
    expect(
      edgeFineness(
        mask((x) => x % 16 < 4),
        8,
      ),
    ).toBeGreaterThan(0.9);
    expect(
      edgeFineness(
        mask((x) => x % 16 < 12),
        8,
      ),
    ).toBeGreaterThan(0.9);
    expect(
      edgeFineness(
        mask((x) => x % 40 < 20),
        8,
      ),
    ).toBe(0);
  });

  test('of a disc with hair is the hair’s share', () => {
    // Ten hairs of 3 x 30 px: 600 px of edge beside the disc's 250.
    const hair = (x: number, y: number): boolean => x > 118 && x < 150 && Math.abs(y - 60) < 36 && (y - 24) % 8 < 3;
    const fine = edgeFineness(
      mask((x, y) => disc(x, y) || hair(x, y)),
      8,
    );
    expect(fine).toBeGreaterThan(0.55);
    expect(fine).toBeLessThan(0.85);
  });

  test('of nothing, and of everything, is none', () => {
    expect(
      edgeFineness(
        mask(() => false),
        8,
      ),
    ).toBe(0);
    expect(
      edgeFineness(
        mask(() => true),
        8,
      ),
    ).toBe(0);
  });
});
