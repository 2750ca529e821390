import { seeded } from '@/tests/support/chance';
import { pictureOf, type Picture8 } from '../../raster/picture';
import { bitsSet, censusOf } from './census';
import { depthFromPair } from './depthFromPair';
import { UNKNOWN } from './disparity';
import { fillFromFarther } from './fillFromFarther';
import { narrowed } from './ranges';

const width = 200;
const height = 120;

/** Two views of noisy planes: a wall, and a box before it; disparity in whole px, or between. */
function views(wall: number, box: number): { left: Picture8; right: Picture8; truth: Float32Array } {
  const random = seeded(8);
  const texture = Array.from({ length: 2 }, () =>
    Float32Array.from({ length: 600 * height * 3 }, () => 40 + 170 * random()),
  );
  const inBox = (x: number, y: number): boolean => x >= 80 && x < 140 && y >= 30 && y < 90;
  const truth = new Float32Array(width * height);
  /** The colour of a plane at a place of the scene, between its texture's px. */
  const colour = (plane: number, x: number, y: number, c: number): number => {
    const u = Math.floor(x);
    const at = (k: number): number => texture[plane][(y * 600 + k + 200) * 3 + c];
    return at(u) + (x - u) * (at(u + 1) - at(u));
  };
  const draw = (eye: 0 | 1): Picture8 => {
    const data = new Uint8Array(width * height * 4).fill(255);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const onBox = inBox(Math.floor(x + eye * box), y);
        const plane = onBox ? 1 : 0;
        const shift = eye * (onBox ? box : wall);
        for (let c = 0; c < 3; c++) data[(y * width + x) * 4 + c] = colour(plane, x + shift, y, c);
        if (eye === 0) truth[y * width + x] = onBox ? box : wall;
      }
    return pictureOf({ width, height }, data, 'straight');
  };
  return { left: draw(0), right: draw(1), truth };
}

test('two planes have their disparities, between whole px too, and what one eye sees belongs to the farther', () => {
  const { left, right, truth } = views(4, 17.5);
  const { depth, nearPx, farPx } = depthFromPair(left, right);
  let [off, far] = [0, 0];
  for (let i = 0; i < truth.length; i++) {
    const d = -(farPx + ((nearPx - farPx) * depth.data[i]) / 65535);
    if (Math.abs(d - truth[i]) > 1) off++;
    const [x, y] = [i % width, Math.floor(i / width)];
    // Beside the box the left eye sees a strip of wall that the right one does not.
    if (y > 40 && y < 80 && x >= 68 && x < 76 && Math.abs(d - 4) < 1.5) far++;
  }
  expect(off / truth.length).toBeLessThan(0.03);
  expect(far / (39 * 8)).toBeGreaterThan(0.9);
  expect(nearPx).toBeLessThan(-16.5);
  expect(farPx).toBeGreaterThan(-5.5);
});

test('depth behind the screen, where eyes turned in, has disparities below nothing', () => {
  const { left, right } = views(-9, 6);
  const { nearPx, farPx } = depthFromPair(left, right);
  expect(farPx).toBeGreaterThan(7.5);
  expect(nearPx).toBeLessThan(-5);
});

test('pictures of two sizes are refused by name', () => {
  const { left } = views(4, 17);
  const small = pictureOf({ width: 10, height: 10 }, new Uint8Array(400), 'straight');
  expect(() => depthFromPair(left, small)).toThrow('10 × 10');
});

test('a census is blind to how light a picture is; bits are counted', () => {
  const random = seeded(2);
  const grey = Float32Array.from({ length: 30 * 20 }, () => 100 * random());
  expect(
    censusOf(
      grey.map((v) => 0.6 * v + 30),
      30,
      20,
    ),
  ).toEqual(censusOf(grey, 30, 20));
  for (const v of [0, 1, 0x7fffffff, 0x80000000, 0x12345678])
    expect(bitsSet(v)).toBe([...(v >>> 0).toString(2)].filter((b) => b === '1').length);
});

test('ranges reach around the least and the greatest that were found nearby', () => {
  const found = new Float32Array(20 * 10).fill(5);
  for (let y = 0; y < 10; y++) for (let x = 10; x < 20; x++) found[y * 20 + x] = 12;
  const { first, last, at } = narrowed(found, { width: 20, height: 10 }, 40, 20);
  const range = (x: number): number[] => [first[10 * 40 + x], last[10 * 40 + x]];
  expect(range(2)).toEqual([7, 13]);
  expect(range(19)).toEqual([7, 27]);
  expect(range(38)).toEqual([21, 27]);
  expect(at[40 * 20]).toBe(first.reduce((sum, v, i) => sum + last[i] - v + 1, 0));
});

test('what is unknown is filled from the farther side; rows of which nothing is known from the next ones', () => {
  const row = [90, 90, UNKNOWN, UNKNOWN, 3, 3, UNKNOWN, UNKNOWN];
  const plane = Float32Array.from([...row, ...Array.from(row, () => UNKNOWN), ...row]);
  const filled = fillFromFarther(plane, 8, 3);
  expect([...filled]).toEqual([
    ...[90, 90, 3, 3, 3, 3, 3, 3],
    ...[90, 90, 3, 3, 3, 3, 3, 3],
    ...[90, 90, 3, 3, 3, 3, 3, 3],
  ]);
});
