import { pictureOf, type DepthMap, type Premultiplied8 } from '../raster/picture';
import { halvedRasters, halvingsForScale } from './halvedRasters';

const filled = (width: number, height: number, value: (x: number, y: number) => number): Premultiplied8 =>
  pictureOf(
    { width, height },
    Uint8Array.from({ length: width * height * 4 }, (_, i) => value((i >> 2) % width, Math.floor((i >> 2) / width))),
    'premultiplied',
  );
const flat = (width: number, height: number, value: number): DepthMap => ({
  width,
  height,
  data: new Uint16Array(width * height).fill(value),
});

test('plates keep their places in the smaller picture, covering half where half is theirs', () => {
  // A plate of rows 3 to 6 of a picture of 12 x 10, all covered.
  const small = halvedRasters(
    {
      picture: filled(12, 10, () => 100),
      depth: flat(12, 10, 7),
      plates: [
        { id: 'p', top: 3, columns: { left: 0, right: 12 }, picture: filled(12, 4, () => 200), depth: flat(12, 4, 9) },
      ],
    },
    1,
  );
  expect(small.picture).toMatchObject({ width: 6, height: 5 });
  const [plate] = small.plates;
  expect(plate).toMatchObject({ id: 'p', top: 1, columns: { left: 0, right: 6 } });
  expect(Array.from({ length: plate.picture.height }, (_, y) => plate.picture.data[y * 24])).toEqual([100, 200, 100]);
  expect([...plate.depth.data].every((v) => v === 9)).toBe(true);
});

test('frames of the source’s size are made of its own pixels; 24 MP for 1080p of a quarter', () => {
  expect([1, 1.2, 0.8, 0.75].map(halvingsForScale)).toEqual([0, 0, 0, 0]);
  expect([0.6, 0.5, 1920 / 6000, 0.25].map(halvingsForScale)).toEqual([1, 1, 2, 2]);
});
