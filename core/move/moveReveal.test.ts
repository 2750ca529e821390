import { STANDING, type Vector } from '../camera/pose';
import type { Move } from '../camera/move';
import { Reveal } from '../fill/revealMap';
import { emptyPicture, pictureOf, type Mask, type Premultiplied8 } from '../raster/picture';
import { wholeScene, type MovedPart } from '../scene/sceneAt';
import type { ShotRasters } from '../shot/rasters';
import { momentsOf, seeMove } from './moveReveal';

// A far ground with a hole behind a near card of columns 150 to 249, rows 60 to 179.
const size = { width: 400, height: 240 };
const n = size.width * size.height;
const document: MovedPart = {
  budget: { nearPx: 0, farPx: 0 },
  sourceEye: 'centre',
  swapEyes: false,
  tearPx: 2,
  source: size,
  depth: { near: 1, far: 0 },
  plates: [{ id: 'card', matte: 'card', hidden: false, depth: { near: 1, far: 0.98 } }],
  camera: { focalPx: 400, principalPoint: null, near: 2, depth: null, base: 'stays' },
};
const scene = wholeScene(document);
const ground = pictureOf(size, new Uint8Array(n * 4).fill(255), 'premultiplied');
const card = emptyPicture<Premultiplied8>(ground, size.width, size.height);
const hole: Mask = { ...size, data: new Uint8Array(n) };
for (let y = 60; y < 180; y++)
  for (let x = 150; x < 250; x++) {
    card.data.set([9, 9, 9, 255], (y * 400 + x) * 4);
    hole.data[y * 400 + x] = 255;
  }
const flat = (value: number) => ({ ...size, data: new Uint16Array(n).fill(value) });
const rasters: ShotRasters<Premultiplied8> = {
  picture: ground,
  depth: flat(0),
  hole,
  plates: [{ id: 'card', top: 0, columns: { left: 150, right: 250 }, picture: card, depth: flat(65535) }],
};
const moveTo = (...places: Vector[]): Move => ({
  fps: 24,
  frames: 41,
  path: 'straight',
  pace: 'keys',
  keys: places.map((position, k) => ({
    frame: (40 * k) / (places.length - 1),
    ease: 'linear' as const,
    value: { ...STANDING, position },
  })),
});

function uncovered(move: Move, first = 0, last = 40): Mask {
  const reveal = new Reveal(scene, rasters, 1);
  const steps = seeMove(reveal, { scene, move, first, last }, rasters, 1);
  while (!steps.next().done);
  return reveal.found(0).find(({ id }) => id === null)!.mask;
}
const columns = ({ data }: Mask, y: number): number[] =>
  Array.from({ length: 400 }, (_, x) => x).filter((x) => data[y * 400 + x] > 0);

test('a camera that goes 0.1 m aside uncovers the 20 px that the card moves, at the side where it moves away', () => {
  // 400 px of focal length at 2 m: 0.1 m are 20 px; the ground without end stands still. Edges mix over a pixel or two.
  const seen = columns(uncovered(moveTo([0, 0, 0], [0.1, 0, 0])), 120);
  expect(Math.abs(seen[0] - 230)).toBeLessThanOrEqual(2);
  expect(Math.abs(seen[seen.length - 1] - 249)).toBeLessThanOrEqual(2);
  expect(seen.length).toBeGreaterThanOrEqual(16);
});

test('there and back to the other side, both; of a part of it, what that part shows', () => {
  const both = moveTo([0, 0, 0], [0.1, 0, 0], [-0.1, 0, 0]);
  const seen = columns(uncovered(both), 120);
  expect(seen.some((x) => x < 165)).toBe(true);
  expect(seen.some((x) => x > 235)).toBe(true);
  expect(seen.every((x) => x < 172 || x > 228)).toBe(true);
  expect(columns(uncovered(both, 0, 20), 120).every((x) => x > 228)).toBe(true);
});

test('at rest nothing is uncovered; the farther it goes, the more moments are looked at', () => {
  expect(columns(uncovered(moveTo([0, 0, 0], [0, 0, 0])), 120)).toEqual([]);
  const look = (x: number) => momentsOf({ scene, move: moveTo([0, 0, 0], [x, 0, 0]), first: 0, last: 40 });
  // 20 px and 200 px of way.
  expect(look(0.1)).toEqual([0, 13, 27, 40]);
  expect(look(1)).toHaveLength(15);
});
