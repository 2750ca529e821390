import { sceneOf, type ScenePart } from '../scene/sceneOf';
import type { DepthMap, Mask, Premultiplied8 } from '../raster/picture';
import { layOutPlates } from '../shot/layOut';
import { revealMap } from './revealMap';

const width = 200;
const height = 40;
const picture: Premultiplied8 = {
  bits: 8 as const,
  alpha: 'premultiplied' as const,
  width,
  height,
  data: new Uint8Array(width * height * 4).fill(255),
};
const map = (value: (x: number, y: number) => number): DepthMap => ({
  width,
  height,
  data: Uint16Array.from({ length: width * height }, (_, i) =>
    Math.round(value(i % width, Math.floor(i / width)) * 65535),
  ),
});
const box = (x: number, y: number): boolean => x >= 80 && x < 120 && y >= 10 && y < 30;
const matte: Mask = {
  width,
  height,
  data: Uint8Array.from({ length: width * height }, (_, i) => (box(i % width, Math.floor(i / width)) ? 255 : 0)),
};
const part = (plates: ScenePart['plates'], budget = { nearPx: -20, farPx: 0 }): ScenePart => ({
  budget,
  sourceEye: 'centre',
  swapEyes: false,
  tearPx: 2,
  depth: { near: 1, far: 0 },
  source: { width },
  plates,
});
const near = { id: 'a', matte: 'a', hidden: false, depth: { near: 1, far: 0.9 } };

describe('the reveal map', () => {
  const rasters = layOutPlates(
    picture,
    map(() => 0),
    [{ id: 'a', matte, depth: map(() => 1) }],
  );
  test('of a flat box 20 px before a flat ground is a strip of 10 px at each side, for both eyes', () => {
    // Each eye sees half of the difference in parallax: 10 px of what the box hides at one side.
    const [box1, back] = revealMap(sceneOf(part([near])), rasters, [-0.5, 0.5]);
    expect([box1.id, back.id]).toEqual(['a', null]);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const seen = y >= 10 && y < 30 && ((x >= 80 && x < 90) || (x >= 110 && x < 120));
        // The hole is pushed out by 2 px so that no rim stays: these pixels count as hidden, and the eyes see them.
        const rim = x >= 78 && x < 122 && y >= 8 && y < 32 && !box(x, y);
        if (!rim) expect(back.mask.data[y * width + x]).toBe(seen ? 255 : 0);
      }
    expect(box1.count).toBe(0);
  });
  test('one eye uncovers one side; no budget, or a hidden plate, uncovers nothing more', () => {
    const right = revealMap(sceneOf(part([near])), rasters, [0.5])[1];
    expect(right.mask.data[20 * width + 85]).toBe(0);
    expect(right.mask.data[20 * width + 115]).toBe(255);
    const flat = revealMap(sceneOf(part([near], { nearPx: 0, farPx: 0 })), rasters, [-0.5, 0.5])[1];
    expect(flat.mask.data[20 * width + 85]).toBe(0);
    const turned = revealMap(sceneOf(part([{ ...near, hidden: true }])), rasters, [-0.5, 0.5]).find(
      (r) => r.id === null,
    )!;
    // Turned away it hides nothing: all that lies behind it is seen.
    expect(turned.mask.data[20 * width + 100]).toBe(255);
  });
  test('a margin grows it within what is hidden', () => {
    const back = revealMap(sceneOf(part([near])), rasters, [-0.5, 0.5], { marginPx: 5 })[1];
    expect([back.mask.data[20 * width + 93], back.mask.data[20 * width + 96], back.mask.data[20 * width + 60]]).toEqual(
      [255, 0, 0],
    );
  });
  test('torn open inside one plate is counted with it', () => {
    const step = layOutPlates(
      picture,
      map((x) => (x < 100 ? 0 : 1)),
      [],
    );
    const [back] = revealMap(sceneOf(part([])), step, [0.5, -0.5]);
    // The near half goes 10 px to one side in each eye: in one of them a gap of 10 px opens in every row.
    expect(Math.abs(back.torn - 10 * height)).toBeLessThanOrEqual(height);
    expect(back.count).toBe(0);
  });
  test('what a nearer plate still covers in a view is not revealed; what goes on behind belongs to the plate beside it', () => {
    const wide: Mask = {
      width,
      height,
      data: Uint8Array.from({ length: width * height }, (_, i) => {
        const x = i % width;
        const y = Math.floor(i / width);
        return !box(x, y) && x >= 60 && x < 140 && y >= 5 && y < 35 ? 255 : 0;
      }),
    };
    const two = layOutPlates(
      picture,
      map(() => 0),
      [
        { id: 'b', matte: wide, depth: map(() => 1) },
        { id: 'a', matte, depth: map(() => 1) },
      ],
    );
    const found = revealMap(
      sceneOf(part([near, { id: 'b', matte: 'b', hidden: false, depth: { near: 0.5, far: 0.4 } }])),
      two,
      [-0.5, 0.5],
    );
    const maskOf = (id: string | null): Uint8Array => found.find((f) => f.id === id)!.mask.data;
    expect([maskOf('b')[20 * width + 82], maskOf('b')[20 * width + 92]]).toEqual([255, 0]);
    // Behind the box lies plate b, not the ground: it covers the ground there.
    expect(maskOf(null)[20 * width + 82]).toBe(0);
    expect([maskOf(null)[20 * width + 62], maskOf(null)[20 * width + 70]]).toEqual([255, 0]);
  });
});
