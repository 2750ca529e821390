import type { Pose } from '../camera/pose';
import { sceneAt, wholeScene, type MovedPart } from '../scene/sceneAt';
import { cropPicture, cropPlane } from '../raster/crop';
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

test('a part of a shot shows what the whole shows there; what it does not hold stays clear', () => {
  // Depth in soft hills: nothing tears, so that a pixel's neighbours are all that it takes from.
  const hills = {
    ...size,
    data: Uint16Array.from(
      { length: n },
      (_, i) => 20000 + 9000 * Math.sin((i % width) / 19) * Math.cos(i / width / 15),
    ),
  };
  // Colours say the place: three levels a px across, four down.
  const ramps = pictureOf(
    size,
    Uint8Array.from({ length: n * 4 }, (_, i) => {
      const pixel = i >> 2;
      return [3 * (pixel % width), 4 * Math.floor(pixel / width), 0, 255][i & 3];
    }),
    'premultiplied',
  );
  const cut = { left: 24, top: 16, right: 64, bottom: 48 };
  const small = { width: 40, height: 32 };
  const rasters = {
    picture: cropPicture(ramps, cut),
    depth: cropPlane(hills, cut),
    plates: [],
  };
  const window = { left: 24, top: 16, scale: 1 };
  const pose: Pose = { position: [0.1, 0.02, 0.05], pan: 0, tilt: 0, roll: 0, zoom: 1 };
  const whole = movedView(ramps, size);
  openMove({ picture: ramps, depth: hills, plates: [] }).render({ ...scene, pose }, null, whole);
  const seen = movedView(ramps, small);
  openMove(rasters, { from: cut, window, size: small, goOn: false }).render({ ...scene, pose }, null, seen);
  const there = cropPicture(whole.picture, cut).data;
  let clear = 0;
  let worst = 0;
  for (let i = 0; i < seen.state.data.length; i++) {
    if (seen.picture.data[i * 4 + 3] === 0) clear++;
    else for (let c = 0; c < 3; c++) worst = Math.max(worst, Math.abs(seen.picture.data[i * 4 + c] - there[i * 4 + c]));
  }
  // It moves to the left by some px: so many columns at the right have nothing.
  expect(clear / small.height).toBeGreaterThan(1);
  expect(clear / small.height).toBeLessThan(8);
  // Cells that the cut ends are drawn quad by quad instead of as planes, which may stray by 0.1 px and lap over by 0.12: less
  // than a level, and each side is rounded.
  expect(worst).toBeLessThanOrEqual(2);
});

test('any size and depth can be moved through with its edges parted; what is opaque stays so', () => {
  for (let n = 0; n < 40; n++) {
    const w = 1 + (noise(n * 5) % 40);
    const h = 1 + (noise(n * 7 + 3) % 20);
    const small = { width: w, height: h };
    const picture = pictureOf(
      small,
      Uint8Array.from({ length: w * h * 4 }, (_, i) => (i % 4 === 3 ? 255 : noise(i + n) & 255)),
      'premultiplied',
    );
    const map = { ...small, data: Uint16Array.from({ length: w * h }, (_, i) => (noise(i + 31 * n) & 3) * 21845) };
    const document: MovedPart = { ...part, source: small, budget: { nearPx: -w / 4, farPx: w / 4 }, tearPx: 0.5 };
    const pose: Pose = { position: [0.2, -0.1, 0.3], pan: 4, tilt: 2, roll: 5, zoom: 1.1 };
    const out = movedView(picture, small);
    openMove({ picture, depth: map, plates: [] }, { fine: n % 2 === 0 }).render(
      { ...wholeScene(document), pose },
      n % 3 === 0 ? null : 0.5,
      out,
    );
    for (let i = 0; i < w * h; i++) {
      expect(out.state.data[i]).toBeLessThanOrEqual(2);
      expect([0, 255]).toContain(out.picture.data[i * 4 + 3]);
    }
  }
});
