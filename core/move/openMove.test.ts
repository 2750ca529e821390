import type { Pose } from '../camera/pose';
import { sceneAt, wholeScene, type MovedPart } from '../scene/sceneAt';
import { pictureOf, type Premultiplied } from '../raster/picture';
import { movedView, openMove } from './openMove';

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

test('rows rendered apart are the same', () => {
  const pose: Pose = { position: [0.2, 0.1, 0.3], pan: 2, tilt: -1, roll: 3, zoom: 1.1 };
  const move = openMove({ picture: eight, depth, plates: [] });
  const whole = movedView(eight, size);
  move.render({ ...scene, pose }, null, whole);
  const apart = movedView(eight, size);
  const other = openMove({ picture: eight, depth, plates: [] });
  move.render({ ...scene, pose }, null, apart, { top: 0, bottom: 23 });
  other.render({ ...scene, pose }, null, apart, { top: 23, bottom: height });
  expect(apart).toEqual(whole);
});
