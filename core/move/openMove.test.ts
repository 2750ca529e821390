import type { Pose } from '../camera/pose';
import { sceneAt, wholeScene, type MovedPart } from '../scene/sceneAt';
import { pictureOf, type Premultiplied } from '../raster/picture';
import { movedView, openMove, type OpenMove } from './openMove';

const width = 83;
const height = 61;
const size = { width, height };
const n = width * height;
const part: MovedPart = {
  budget: { nearPx: -6, farPx: 5 },
  sourceEye: 'centre',
  swapEyes: false,
  tearPx: 2,
  source: size,
  depth: { near: 0.9, far: 0 },
  plates: [],
  camera: { focalPx: 90, principalPoint: null, near: 2, depth: 6, base: 'stays' },
};
const scene = wholeScene(part);
const noise = (i: number): number => (Math.imul(i + 7, 2654435761) >>> 16) & 65535;
const eight = pictureOf(
  size,
  Uint8Array.from({ length: n * 4 }, (_, i) => (i % 4 === 3 ? 255 : noise(i) & 255)),
  'premultiplied',
);
const deep = pictureOf(
  size,
  Uint16Array.from({ length: n * 4 }, (_, i) => (i % 4 === 3 ? 65535 : noise(i))),
  'premultiplied',
);
const depth = { ...size, data: Uint16Array.from({ length: n }, (_, i) => noise(i * 3)) };

describe('at rest a move is the source, bit for bit, whatever its depth', () => {
  test.each([
    ['8 bits', eight, false],
    ['16 bits', deep, false],
    ['8 bits, sampled at twice the size', eight, true],
    ['16 bits, sampled at twice the size', deep, true],
  ] as const)('%s', (_, picture, fine) => {
    const move = openMove<Premultiplied>({ picture, depth, plates: [] }, { fine });
    const out = movedView<Premultiplied>(picture, size);
    move.render(sceneAt(scene, null, 0), null, out);
    expect(out.picture.data).toEqual(picture.data);
    expect(out.state.data.every((v) => v === 0)).toBe(true);
  });
});

test('frames that do not fit into memory are refused with what helps', () => {
  const rasters = { picture: eight, depth, plates: [] };
  expect(() => openMove(rasters, { size: { width: 16000, height: 12000 } })).toThrow('Choose a smaller size');
});

test('a move that two workers share is the same as one worker’s, bit for bit', () => {
  const poses: Pose[] = [0.1, 0.2, 0.3, 0.4].map((v) => ({
    position: [v, v / 2, v],
    pan: 9 * v,
    tilt: -v,
    roll: 3,
    zoom: 1 + v / 9,
  }));
  const rasters = { picture: eight, depth, plates: [] };
  const frame = (move: OpenMove<typeof eight>, pose: Pose): Uint8Array => {
    const out = movedView(eight, size);
    move.render({ ...scene, pose }, null, out);
    return Uint8Array.from(out.picture.data);
  };
  const single = openMove(rasters);
  const alone = poses.map((pose) => frame(single, pose));
  const [first, second] = [openMove(rasters), openMove(rasters)];
  const shared = poses.map((pose, n) => frame(n < 2 ? first : second, pose));
  expect(shared).toEqual(alone);
  expect(new Set(alone.map((data) => data.join())).size).toBe(4);
});
