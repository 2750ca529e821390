import {
  pictureOf,
  type DepthMap,
  type Mask,
  type Picture,
  type Premultiplied,
  type Premultiplied8,
} from '../raster/picture';
import { sceneOf, type ScenePart } from '../scene/sceneOf';
import { layOutPlates } from '../shot/layOut';
import type { ShotRasters } from '../shot/rasters';
import { renderView } from './renderView';

const width = 160;
const height = 60;
const size = { width, height };
const n = width * height;
const depth: DepthMap = {
  ...size,
  data: Uint16Array.from({ length: n }, (_, i) => (((i % width) * 97 + Math.floor(i / width) * 331) % 40) * 1600),
};
const disc = (x: number, y: number): number => Math.hypot(x - 70, y - 30);
/** A soft disc of a radius of 14 px. */
const matte: Mask = {
  ...size,
  data: Uint8Array.from({ length: n }, (_, i) =>
    Math.max(0, Math.min(255, (14.5 - disc(i % width, Math.floor(i / width))) * 255)),
  ),
};
const sample = (i: number): number => (i % 4 === 3 ? 255 : (i * 2654435761) & 255);
const eight: Premultiplied8 = pictureOf(
  size,
  Uint8Array.from({ length: n * 4 }, (_, i) => sample(i)),
  'premultiplied',
);
const deep: Premultiplied = pictureOf(
  size,
  Uint16Array.from({ length: n * 4 }, (_, i) => sample(i) * 257),
  'premultiplied',
);

const part = (nearPx: number, farPx: number, tearSoftPx: number): ScenePart => ({
  budget: { nearPx, farPx },
  sourceEye: 'centre',
  swapEyes: false,
  tearPx: 2,
  tearSoftPx,
  source: { width },
  depth: { near: 0.4, far: 0 },
  plates: [{ id: 'disc', matte: 'disc', hidden: false, depth: { near: 1, far: 0.5 } }],
});

/** The same, as if a plate could have something in every column. */
const whole = <P extends Premultiplied>(rasters: ShotRasters<P>): ShotRasters<P> => ({
  ...rasters,
  plates: rasters.plates.map((p) => ({ ...p, columns: { left: 0, right: width } })),
});

describe('a plate is drawn only in the columns that it may reach', () => {
  test.each([
    ['8 bits', -20, 12, 0],
    ['8 bits, softened', -20, 12, 3],
    ['all before the screen', -30, -14, 0],
    ['all behind it, black near', 26, 9, 2],
  ])('and the view is the same to the bit: %s', (_, nearPx, farPx, soft) => {
    const scene = sceneOf(part(nearPx, farPx, soft));
    for (const picture of [eight, deep]) {
      const rasters = layOutPlates<Premultiplied>(picture, depth, [{ id: 'disc', matte, depth }]);
      expect(rasters.plates[0].columns.right - rasters.plates[0].columns.left).toBeLessThan(40);
      for (const eye of [-0.5, 0, 0.5]) {
        const narrow = renderView(scene, rasters, eye);
        const wide = renderView(scene, whole(rasters), eye);
        expect(differs(narrow.picture, wide.picture)).toBe(0);
        expect(Buffer.compare(narrow.revealed.data, wide.revealed.data)).toBe(0);
        expect(narrow.revealedCount).toBe(wide.revealed.data.reduce((sum, v) => sum + (v ? 1 : 0), 0));
      }
    }
  });
});

/** How many samples differ. */
function differs(a: Picture, b: Picture): number {
  let count = 0;
  for (let i = 0; i < a.data.length; i++) if (a.data[i] !== b.data[i]) count++;
  return count;
}
