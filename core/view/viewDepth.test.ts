import type { DepthMap, Mask, Premultiplied8 } from '../raster/picture';
import { sceneOf, type ScenePart } from '../scene/sceneOf';
import { layOutPlates } from '../shot/layOut';
import { renderView } from './renderView';

const width = 120;
const height = 60;
const id = 'box';
const grey: Premultiplied8 = {
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
const box = (x: number, y: number): boolean => x >= 40 && x < 70 && y >= 15 && y < 45;
const matte: Mask = {
  width,
  height,
  data: Uint8Array.from({ length: width * height }, (_, i) => (box(i % width, Math.floor(i / width)) ? 255 : 0)),
};
/** A parallax of depth d is -20 d px, seen from the left eye as it is. */
const part = (plates: ScenePart['plates'] = [], depth = { near: 1, far: 0 }): ScenePart => ({
  budget: { nearPx: -20, farPx: 0 },
  sourceEye: 'left',
  swapEyes: false,
  tearPx: 2,
  source: { width },
  depth,
  plates,
});
const thing = (near: number, far: number) => ({ id, matte: id, hidden: false, depth: { near, far } });
const at = (view: DepthMap, x: number, y = 30): number => view.data[y * width + x] / 65535;

describe('the depth of what a view shows', () => {
  test('from the source’s own eye is the depth on the ruler, of the plate where it covers', () => {
    const rasters = layOutPlates(
      grey,
      map((x) => x / (width - 1)),
      [{ id, matte, depth: map(() => 0.5) }],
    );
    const depth = renderView(sceneOf(part([thing(0.9, 0.7)], { near: 0.4, far: 0.2 })), rasters, -0.5).depth();
    // Maps of 16 bits round once: half a step of the ruler.
    for (const x of [0, 20, 100, 119]) expect(Math.abs(at(depth, x) - (0.2 + (0.2 * x) / 119))).toBeLessThan(1 / 65535);
    for (const x of [40, 55, 69]) expect(Math.abs(at(depth, x) - 0.8)).toBeLessThan(1 / 65535);
  });

  test('from the other eye stands where the thing stands; what is revealed has the farther side’s depth', () => {
    const depth = map((x, y) => (box(x, y) ? 0.5 : 0.1));
    const view = renderView(sceneOf(part()), layOutPlates(grey, depth, []), 0.5).depth();
    // The ground is 2 px to the left, the box 10 px: it stands from 30 to 60, and 60 to 68 is revealed behind it.
    for (const x of [31, 45, 58]) expect(at(view, x)).toBeCloseTo(0.5, 4);
    for (const x of [5, 28, 61, 64, 67, 80]) expect(at(view, x)).toBeCloseTo(0.1, 4);
  });

  test('a plate moves by its own parallax over the ground', () => {
    const rasters = layOutPlates(
      grey,
      map(() => 0.1),
      [{ id, matte, depth: map(() => 1) }],
    );
    const view = renderView(sceneOf(part([thing(0.5, 0.3)])), rasters, 0.5).depth();
    for (const x of [30, 45, 59]) expect(at(view, x)).toBeCloseTo(0.5, 4);
    for (const x of [28, 61, 69]) expect(at(view, x)).toBeCloseTo(0.1, 4);
  });
});
