import type { ShotRasters } from '../shot/rasters';
import { plateGround } from './plateGround';
import { sampleAt } from '../inpaint/sample';
import { pictureOf, type Mask, type Picture, type Premultiplied8 } from '../raster/picture';

describe('a colour between pixels', () => {
  // Linear in x and y: linear sampling gives the same plane everywhere between the centres.
  const width = 6;
  const height = 5;
  const plane: Picture = {
    bits: 16,
    alpha: 'straight',
    width,
    height,
    data: Uint16Array.from({ length: width * height * 4 }, (_, i) => {
      const p = i >> 2;
      return (p % width) * 1000 + Math.floor(p / width) * 300 + (i & 3);
    }),
  };
  const sample = (x: number, y: number): number[] => {
    const out = new Float32Array(4);
    sampleAt(plane, x, y, out);
    return [...out];
  };

  test('at a centre is that pixel’s', () => {
    expect(sample(2.5, 3.5)).toEqual([2900, 2901, 2902, 2903]);
  });
  test('between four centres is weighed by how near they are', () => {
    for (const [x, y] of [
      [1, 1],
      [2.25, 1.75],
      [4.9, 3.1],
    ])
      expect(sample(x, y)[0]).toBeCloseTo((x - 0.5) * 1000 + (y - 0.5) * 300, 2);
  });
  test('of premultiplied pixels is the straight one, weighed by what they cover', () => {
    // Red of full coverage beside blue of a third: half way between them (255, 0, 0, 255) and (0, 0, 85, 85) meet in
    // (127.5, 0, 42.5, 170).
    const pair = pictureOf({ width: 2, height: 1 }, Uint8Array.of(255, 0, 0, 255, 0, 0, 85, 85), 'premultiplied');
    const out = new Float32Array(4);
    sampleAt(pair, 1, 0.5, out);
    expect([...out].map((v) => Math.round(v * 100) / 100)).toEqual([191.25, 0, 63.75, 170]);
  });
  test('beyond the border is the outermost pixel’s', () => {
    expect([sample(-40, 2.5)[0], sample(3.5, 90)[0], sample(99, -99)[0]]).toEqual([600, 4200, 5000]);
  });
});

describe('a plate over the whole canvas', () => {
  const width = 10;
  const height = 8;
  const filled = (rows: number, colour: readonly number[]): Premultiplied8 => ({
    bits: 8 as const,
    alpha: 'premultiplied' as const,
    width,
    height: rows,
    data: Uint8Array.from({ length: width * rows * 4 }, (_, i) => colour[i & 3]),
  });
  const mask = (rows: number, is: (x: number, y: number) => boolean): Mask => ({
    width,
    height: rows,
    data: Uint8Array.from({ length: width * rows }, (_, i) => (is(i % width, Math.floor(i / width)) ? 255 : 0)),
  });
  const map = (rows: number) => ({ width, height: rows, data: new Uint16Array(width * rows) });
  const plate = filled(3, [50, 60, 70, 255]);
  // Half-covered at its first pixel, nothing at its last column.
  plate.data.set([25, 30, 35, 128], 0);
  for (let y = 0; y < 3; y++) plate.data.fill(0, (y * width + 9) * 4, (y * width + 10) * 4);
  const rasters: ShotRasters<Premultiplied8> = {
    picture: filled(height, [200, 190, 180, 255]),
    depth: map(height),
    hole: mask(height, (x, y) => x >= 3 && x < 6 && y >= 2 && y < 5),
    plates: [
      {
        id: 'near',
        top: 4,
        columns: { left: 0, right: width },
        picture: plate,
        depth: map(3),
        hidden: mask(3, (x, y) => x === 5 && y === 1),
      },
    ],
  };

  test('the back plate is hidden in its hole, and its own everywhere else', () => {
    const { picture, hidden, own: itsPixels } = plateGround(rasters, null)!;
    expect(picture).toBe(rasters.picture);
    expect(hidden).toBe(rasters.hole);
    for (let i = 0; i < width * height; i++) expect(itsPixels.data[i] + hidden.data[i]).toBe(255);
  });

  test('another plate lies in its rows; only what it covers wholly and shows is surely its own', () => {
    const { picture, hidden, own: itsPixels } = plateGround(rasters, 'near')!;
    const i = (x: number, y: number): number => y * width + x;
    expect([...picture.data.slice(i(4, 5) * 4, i(4, 5) * 4 + 4)]).toEqual([50, 60, 70, 255]);
    expect([...picture.data.slice(0, 4)]).toEqual([0, 0, 0, 0]);
    expect([hidden.data[i(5, 5)], hidden.data[i(4, 5)]]).toEqual([255, 0]);
    expect([
      itsPixels.data[i(4, 5)],
      itsPixels.data[i(5, 5)],
      itsPixels.data[i(0, 4)],
      itsPixels.data[i(9, 5)],
      itsPixels.data[i(4, 2)],
    ]).toEqual([255, 0, 0, 0, 0]);
  });

  test('a shot without a hole hides nothing; a plate that is not laid out has no ground', () => {
    const { picture, depth, plates } = rasters;
    expect(plateGround({ picture, depth, plates }, null)!.hidden.data.some((v) => v)).toBe(false);
    expect(plateGround(rasters, 'elsewhere')).toBeUndefined();
  });
});
