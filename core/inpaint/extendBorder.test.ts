import { sceneOf, type ScenePart } from '../scene/sceneOf';
import { cropPicture } from '../raster/crop';
import type { DepthMap, Premultiplied8 } from '../raster/picture';
import { coverageOf } from '../fill/coverage';
import { extendPicture, extendPlane } from './extendBorder';

const width = 60;
const height = 40;
const picture: Premultiplied8 = {
  bits: 8 as const,
  alpha: 'premultiplied' as const,
  width,
  height,
  data: Uint8Array.from(
    { length: width * height * 4 },
    (_, i) => [((i >> 2) % width) * 4, Math.floor((i >> 2) / width) * 6, 80, 255][i & 3],
  ),
};
const part = (nearPx: number, farPx: number): ScenePart => ({
  budget: { nearPx, farPx },
  sourceEye: 'centre',
  swapEyes: false,
  tearPx: 2,
  depth: { near: 1, far: 0 },
  source: { width },
  plates: [],
});
const flat = (v: number, w = width, h = height): DepthMap => ({
  width: w,
  height: h,
  data: new Uint16Array(w * h).fill(v),
});

describe('coverage', () => {
  test('a ground 12 px behind the screen runs out by 6 px at one side in each eye', () => {
    // Each eye sees half of it: moved right by 6 px in the right eye, the left edge runs dry, and the other way round.
    const found = coverageOf(sceneOf(part(-20, 12)), { picture, depth: flat(0), plates: [] }, [-0.5, 0.5], 1);
    expect([found.left, found.right]).toEqual([6, 6]);
    expect(coverageOf(sceneOf(part(-20, 12)), { picture, depth: flat(0), plates: [] }, [0.5], 1)).toMatchObject({
      left: 6,
      right: 0,
    });
  });
  test('on the screen plane nothing runs out', () => {
    expect(coverageOf(sceneOf(part(-20, 0)), { picture, depth: flat(0), plates: [] }, [-0.5, 0, 0.5], 1)).toMatchObject(
      {
        left: 0,
        right: 0,
      },
    );
  });
  test('so much more canvas cures it', () => {
    const border = { left: 6, right: 6, top: 0, bottom: 0 };
    const wide = extendPicture(picture, border, 'mirror');
    const depth = extendPlane(flat(0), border);
    // Within the old frame, from 6 on, nothing is dry any more.
    const found = coverageOf(
      sceneOf({ ...part(-20, 12), source: { width: 72 } }),
      { picture: wide, depth, plates: [] },
      [-0.5, 0.5],
      1,
    );
    expect(found.left).toBeLessThanOrEqual(6);
  });
});

describe('more canvas', () => {
  const border = { left: 10, right: 5, top: 8, bottom: 0 };
  test.each(['mirror', 'stretch', 'texture'] as const)('by %s: the picture itself is unchanged', (method) => {
    const out = extendPicture(picture, border, method);
    expect([out.width, out.height]).toEqual([75, 48]);
    expect(cropPicture(out, { left: 10, top: 8, right: 10 + width, bottom: 8 + height })).toEqual(picture);
  });
  test('mirrored at the edge; stretched it runs on from the edge', () => {
    const out = extendPicture(picture, border, 'mirror');
    const drawn = extendPicture(picture, border, 'stretch');
    expect(out.data[(20 * 75 + 9) * 4]).toBe(0);
    expect(out.data[(20 * 75 + 4) * 4]).toBe(5 * 4);
    expect(drawn.data[(20 * 75 + 9) * 4]).toBeLessThanOrEqual(8);
    expect(drawn.data[(20 * 75 + 0) * 4]).toBe(0);
  });
  test('planes go on with their outermost values, or with what is said', () => {
    const plane = { width: 2, height: 1, data: Uint8Array.of(7, 9) };
    expect([...extendPlane(plane, { left: 1, right: 2, top: 0, bottom: 0 }).data]).toEqual([7, 7, 9, 9, 9]);
    expect([...extendPlane(plane, { left: 1, right: 0, top: 1, bottom: 0 }, 0).data]).toEqual([0, 0, 0, 0, 7, 9]);
  });
  test('a border out of range is named', () => {
    expect(() => extendPicture(picture, { ...border, left: 61 }, 'mirror')).toThrow(
      'The border at the left is 61 px; it must be a whole number from 0 to 60 px.',
    );
  });
});
