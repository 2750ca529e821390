import { sceneOf, type ScenePart } from '../scene/sceneOf';
import { extendDepth } from '../depth/extendDepth';
import type { DepthMap, Mask, Premultiplied8 } from '../raster/picture';
import { reducePlane } from '../raster/resizePlane';
import { over } from '../stereo/over';
import { cutDepth } from './cutPlate';
import { documentPatchSchema, drawnPlates, newDocument, patchDocument, type Plate } from './document';
import { layOutPlates } from './layOut';
import { renderView } from '../view/renderView';

const width = 120;
const height = 60;
const even = (r: number, g: number, b: number): Premultiplied8 => ({
  bits: 8 as const,
  alpha: 'premultiplied' as const,
  width,
  height,
  data: Uint8Array.from({ length: width * height * 4 }, (_, i) => [r, g, b, 255][i & 3]),
});
const map = (value: (x: number, y: number) => number): DepthMap => ({
  width,
  height,
  data: Uint16Array.from({ length: width * height }, (_, i) =>
    Math.round(value(i % width, Math.floor(i / width)) * 65535),
  ),
});
const matteOf = (value: (x: number, y: number) => number): Mask => ({
  width,
  height,
  data: Uint8Array.from({ length: width * height }, (_, i) =>
    Math.round(value(i % width, Math.floor(i / width)) * 255),
  ),
});
const box = (x: number, y: number): boolean => x >= 40 && x < 70 && y >= 15 && y < 45;
const id = '0f8fad5b-d9cb-469f-a165-70867728950e';
const other = '7c9e6679-7425-40de-944b-e07fc1f90ae7';
const plate = (plateId: string, far: number, near: number, more: Partial<Plate> = {}): Plate => ({
  id: plateId,
  name: 'Box',
  matte: plateId,
  choice: null,
  piece: null,
  fill: null,
  strokes: [],
  overpaint: null,
  tearPx: null,
  tearSoftPx: null,
  keys: [],
  group: null,
  depth: { revision: plateId, near, far },
  hidden: false,
  locked: false,
  ...more,
});
const part = (plates: readonly Plate[]): ScenePart => ({
  budget: { nearPx: -20, farPx: 0 },
  sourceEye: 'left',
  swapEyes: false,
  tearPx: 2,
  depth: { near: 1, far: 0 },
  source: { width },
  plates,
});

test('stray pixels of another depth do not stretch a plate’s span; a depth that runs on keeps all of it', () => {
  const matte = matteOf((x, y) => (box(x, y) ? 1 : 0));
  const strayed = cutDepth(
    map((x, y) => (x === 41 && y === 16 ? 0 : 0.5 + x / 1000)),
    { near: 1, far: 0 },
    matte,
  );
  expect(strayed.far).toBeCloseTo(0.54, 2);
  expect(strayed.depth.data[16 * width + 41]).toBe(0);
  const ramp = cutDepth(
    map((x) => x / 119),
    { near: 1, far: 0 },
    matte,
  );
  expect([ramp.far, ramp.near]).toEqual([Math.floor((40 / 119) * 1000) / 1000, Math.ceil((69 / 119) * 1000) / 1000]);
});

describe('a shot in plates', () => {
  test('without plates it is the source itself', () => {
    const source = even(10, 20, 30);
    const depth = map(() => 0.5);
    expect(layOutPlates(source, depth, [])).toEqual({ picture: source, depth, plates: [] });
  });

  test('a soft plate of the ground’s own colour leaves no dark or light rim anywhere, wherever it is seen from', () => {
    // Premultiplied "over" of white on white is white, whatever the coverage.
    const soft = matteOf((x, y) => Math.max(0, 1 - Math.hypot(x - 60, y - 30) / 25));
    const rasters = layOutPlates(
      even(255, 255, 255),
      map(() => 0),
      [{ id, matte: soft, depth: map(() => 1) }],
    );
    for (const eye of [-0.5, 0.1, 0.5]) {
      const { picture } = renderView(sceneOf(part([plate(id, 0.2, 0.9)])), rasters, eye);
      expect(Array.from(picture.data).reduce((least, v) => Math.min(least, v), 255)).toBeGreaterThanOrEqual(254);
    }
  });

  test('seen from the source’s own eye it is the source: depth never changes that view', () => {
    const source = even(200, 200, 200);
    for (let i = 0; i < width * height; i++)
      if (box(i % width, Math.floor(i / width))) source.data.set([20, 160, 40], i * 4);
    const rasters = layOutPlates(
      source,
      map((x, y) => (box(x, y) ? 0.8 : 0.1)),
      [{ id, matte: matteOf((x, y) => (box(x, y) ? 1 : 0)), depth: map(() => 0.5) }],
    );
    for (const [far, near] of [
      [0.1, 0.2],
      [0.7, 0.9],
      [0, 1],
    ])
      expect(
        Buffer.from(renderView(sceneOf(part([plate(id, far, near)])), rasters, -0.5).picture.data).equals(
          Buffer.from(source.data),
        ),
      ).toBe(true);
  });

  test('a plate moves by its own parallax, and what it uncovers is the ground’s colour', () => {
    const source = even(200, 200, 200);
    for (let i = 0; i < width * height; i++)
      if (box(i % width, Math.floor(i / width))) source.data.set([20, 160, 40], i * 4);
    const rasters = layOutPlates(
      source,
      map((x, y) => (box(x, y) ? 0.8 : 0)),
      [{ id, matte: matteOf((x, y) => (box(x, y) ? 1 : 0)), depth: map(() => 1) }],
    );
    // White of a span up to 0.5 has -10 px: from the right eye the box stands 10 px farther left.
    const { picture } = renderView(sceneOf(part([plate(id, 0.3, 0.5)])), rasters, 0.5);
    const at = (x: number): number[] => [...picture.data.slice((30 * width + x) * 4, (30 * width + x) * 4 + 3)];
    expect(at(30)).toEqual([20, 160, 40]);
    expect(at(59)).toEqual([20, 160, 40]);
    for (const x of [29, 60, 65, 69, 70]) expect(at(x)).toEqual([200, 200, 200]);
  });

  test('the nearer plate covers the farther one, in either order of the list; hidden ones leave the ground', () => {
    const source = even(90, 90, 90);
    const whole = matteOf((x, y) => (box(x, y) ? 1 : 0));
    const rasters = layOutPlates(
      source,
      map(() => 0),
      [
        { id, matte: whole, depth: map(() => 0) },
        { id: other, matte: whole, depth: map(() => 0) },
      ],
    );
    const colour = (r: (typeof rasters.plates)[number], v: number): void => {
      for (let i = 0; i < r.picture.data.length; i += 4) if (r.picture.data[i + 3]) r.picture.data[i] = v;
    };
    colour(rasters.plates[0], 250);
    colour(rasters.plates[1], 5);
    const red = (plates: readonly Plate[]): number =>
      renderView(sceneOf(part(plates)), rasters, -0.5).picture.data[(30 * width + 55) * 4];
    const far = plate(id, 0.1, 0.3);
    const near = plate(other, 0.5, 0.8);
    expect(red([far, near])).toBe(5);
    expect(red([near, far])).toBe(5);
    expect(red([{ ...near, hidden: true }, far])).toBe(250);
    expect(
      red([
        { ...near, hidden: true },
        { ...far, hidden: true },
      ]),
    ).toBe(90);
    expect(drawnPlates([near, far, plate(id, 0, 1, { matte: null })]).map((p) => p.id)).toEqual([id, other]);
  });

  test('the hole is pushed out: no rim of the thing stays on the ground', () => {
    const source = even(50, 50, 50);
    // The thing is mixed with its ground over two pixels beyond the matte, as photographs are.
    for (let i = 0; i < width * height; i++) {
      const x = i % width;
      const y = Math.floor(i / width);
      const d = Math.hypot(Math.max(40 - x, x - 69, 0), Math.max(15 - y, y - 44, 0));
      if (d <= 2) source.data[i * 4] = 250 - d * 66;
    }
    const { picture } = layOutPlates(
      source,
      map(() => 0),
      [{ id, matte: matteOf((x, y) => (box(x, y) ? 1 : 0)), depth: map(() => 1) }],
    );
    expect(new Set(picture.data.filter((_, i) => (i & 3) === 0))).toEqual(new Set([50]));
  });

  test('half-covered pixels carry the plate’s own colour, not that of the ground it stood on', () => {
    const cover = (x: number, y: number): number => Math.min(1, Math.max(0, (26 - Math.hypot(x - 60, y - 30)) / 8));
    const source = even(0, 0, 0);
    for (let i = 0; i < width * height; i++) {
      const a = cover(i % width, Math.floor(i / width));
      [230, 120, 20].forEach((v, c) => {
        source.data[i * 4 + c] = Math.round(v * a + [30, 60, 220][c] * (1 - a));
      });
    }
    const {
      plates: [lifted],
    } = layOutPlates(
      source,
      map(() => 0),
      [{ id, matte: matteOf(cover), depth: map(() => 1) }],
    );
    let checked = 0;
    for (let i = 0; i < lifted.picture.data.length; i += 4) {
      const a = lifted.picture.data[i + 3];
      if (a < 64) continue;
      checked++;
      // As in the test of edge colour cleaning, plus what premultiplied bytes round away at a quarter of coverage (2 of 255).
      [230, 120, 20].forEach((v, c) => {
        expect(Math.abs((lifted.picture.data[i + c] * 255) / a - v)).toBeLessThan(16);
      });
    }
    expect(checked).toBeGreaterThan(1000);
  });

  test('sixteen bits go through it all', () => {
    const source = {
      bits: 16 as const,
      alpha: 'premultiplied' as const,
      width,
      height,
      data: new Uint16Array(width * height * 4).fill(65535),
    };
    const rasters = layOutPlates(
      source,
      map(() => 0),
      [{ id, matte: matteOf((x, y) => (box(x, y) ? 0.5 : 0)), depth: map(() => 1) }],
    );
    const { picture } = renderView(sceneOf(part([plate(id, 0.3, 0.6)])), rasters, 0.5);
    expect(picture.data.reduce((least, v) => Math.min(least, v), 65535)).toBeGreaterThanOrEqual(65534);
  });
});

describe('over', () => {
  test('is Porter and Duff’s, premultiplied: worked by hand', () => {
    const under = {
      bits: 8 as const,
      alpha: 'premultiplied' as const,
      width: 1,
      height: 2,
      data: Uint8Array.of(0, 0, 0, 255, 100, 200, 40, 255),
    };
    // Half-covered red of 200 over (100, 200, 40): 100 + 0.498 * 100 = 149.8, 0.498 * 200 = 99.6, 19.9.
    over(
      under,
      { bits: 8 as const, alpha: 'premultiplied' as const, width: 1, height: 1, data: Uint8Array.of(100, 0, 0, 128) },
      { top: 1 },
    );
    expect([...under.data]).toEqual([0, 0, 0, 255, 150, 100, 20, 255]);
  });
});

describe('a cut plate’s depth', () => {
  const depth = map((x, y) => (box(x, y) ? 0.4 + (x - 40) / 100 : 0.1));
  const matte = matteOf((x, y) => (box(x, y) ? 1 : 0));
  test('stays where it was, stretched over the span that the plate takes', () => {
    const cut = cutDepth(depth, { near: 0.9, far: 0.1 }, matte);
    expect(cut.far).toBeCloseTo(0.1 + 0.8 * 0.4, 2);
    expect(cut.near).toBeCloseTo(0.1 + 0.8 * 0.69, 2);
    for (let y = 15; y < 45; y++)
      for (let x = 40; x < 70; x++) {
        const v = cut.depth.data[y * width + x] / 65535;
        expect(cut.far + (cut.near - cut.far) * v).toBeCloseTo(0.1 + (0.8 * depth.data[y * width + x]) / 65535, 4);
      }
  });
  test('goes on beyond the matte as its edge does', () => {
    const out = extendDepth(depth, matte);
    expect(out.data[30 * width + 10]).toBe(depth.data[30 * width + 40]);
    expect(out.data[5 * width + 55]).toBe(depth.data[15 * width + 55]);
    expect(out.data[30 * width + 110]).toBe(depth.data[30 * width + 69]);
  });
  test('a flat plate still has a span, within the ruler', () => {
    for (const d of [0, 0.5, 1]) {
      const { near, far } = cutDepth(
        map(() => d),
        { near: 1, far: 0 },
        matte,
      );
      expect(near - far).toBeGreaterThanOrEqual(0.02 - 1e-9);
      expect(far).toBeGreaterThanOrEqual(0);
      expect(near).toBeLessThanOrEqual(1);
    }
  });
});

test('a smaller matte covers what the larger one did: the mean over each pixel', () => {
  const out = reducePlane(
    { width: 6, height: 1, data: Uint16Array.of(0, 65535, 65535, 65535, 0, 0) },
    { width: 4, height: 1 },
  );
  // 1.5 px each: (0 + 65535/2) / 1.5, then (65535/2 + 65535) / 1.5, (65535 + 0) / 1.5, 0.
  expect([...out]).toEqual([21845, 65535, 43690, 0]);
});

test('a patch changes the plates it names and no others, and cannot turn a span round', () => {
  const begun = {
    ...newDocument({ mediaId: id, fileName: 'a.png', width: 100, height: 50, bits: 8, hasAlpha: false, told: '' }, id),
    plates: [plate(id, 0.1, 0.3), plate(other, 0.5, 0.8)],
  };
  const next = patchDocument(begun, { plates: [{ id: other, near: 0.9, name: 'Tree', hidden: true }] });
  expect(next.plates).toEqual([
    begun.plates[0],
    { ...begun.plates[1], name: 'Tree', hidden: true, depth: { revision: other, far: 0.5, near: 0.9 } },
  ]);
  expect(documentPatchSchema.safeParse({ plates: [{ id, near: 0.2, far: 0.5 }] }).success).toBe(false);
  expect(documentPatchSchema.safeParse({ plates: [{ id, matte: other }] }).success).toBe(false);
});
