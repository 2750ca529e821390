import { emptyPicture, pictureOf } from '../raster/picture';
import type { SceneFrame } from '../scene/sceneOf';
import { outlinesOf } from './outlines';

const size = { width: 120, height: 80 };
const ground = pictureOf(size, new Uint8Array(120 * 80 * 4).fill(255), 'premultiplied');
const surface = { tearPx: 2, tearSoftPx: 0 };
const flat = (value: number) => ({ ...size, data: new Uint16Array(120 * 80).fill(value) });
const boundsOf = (places: Float32Array): number[] => {
  const xs = places.filter((_, n) => n % 3 === 0);
  const ys = places.filter((_, n) => n % 3 === 1);
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
};

test('a plate’s border lies where its coverage ends, at its own depth; specks are left out', () => {
  const card = emptyPicture(ground, 120, 80);
  for (let y = 20; y < 60; y++) for (let x = 30; x < 70; x++) card.data.set([9, 9, 9, 255], (y * 120 + x) * 4);
  card.data.set([9, 9, 9, 255], (5 * 120 + 100) * 4);
  const scene = {
    back: { near: 1, far: 0, ...surface },
    plates: [{ id: 'card', near: 0.8, far: 0.6, hidden: false, piece: null, ...surface }],
  } as unknown as SceneFrame;
  const plate = { id: 'card', top: 0, columns: { left: 0, right: 120 }, picture: card, depth: flat(65535) };
  const [outline, ...others] = outlinesOf({ picture: ground, depth: flat(0), plates: [plate] }, scene, 0.5);
  expect(others).toEqual([]);
  // Two source px a raster px; the card's columns 30 to 69 begin and end within the grid's fours: 28 or 32, 68 or 72.
  boundsOf(outline.places).forEach((v, n) => {
    expect(Math.abs(v - [59.5, 39.5, 139.5, 119.5][n])).toBeLessThanOrEqual(4);
  });
  expect(outline.places[2]).toBeCloseTo(0.8, 6);
});

test('without plates the nearer half of the depths has a border; one depth everywhere has none', () => {
  const scene = { back: { near: 1, far: 0, ...surface }, plates: [] } as unknown as SceneFrame;
  const depth = flat(0);
  for (let y = 40; y < 80; y++) depth.data.fill(50000, y * 120, y * 120 + 120);
  const [outline] = outlinesOf({ picture: ground, depth, plates: [] }, scene, 1);
  expect(boundsOf(outline.places)).toEqual([-0.5, 39.5, 119.5, 79.5]);
  expect(outlinesOf({ picture: ground, depth: flat(7), plates: [] }, scene, 1)).toEqual([]);
});
