import { copyPicture, pictureOf, type Mask, type Straight } from '../../raster/picture';
import { smoothArea } from '../smoothArea';
import { firstLook } from './firstLook';

const width = 480;
const height = 360;
const size = { width, height };
/** Upright bars 24 px apart before a wall that grows lighter downwards. */
const wall = (x: number, y: number): readonly number[] =>
  x % 24 < 8 ? [60, 50, 40] : [120 + y / 5, 140 + y / 5, 150 + y / 5];
const truth: Straight = pictureOf(
  size,
  Uint8Array.from({ length: width * height * 4 }, (_, i) => {
    const p = i >> 2;
    return i % 4 === 3 ? 255 : Math.round(wall(p % width, Math.floor(p / width))[i % 4]);
  }),
  'straight',
);
const box = (left: number, top: number, right: number, bottom: number): Mask => ({
  ...size,
  data: Uint8Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    return x >= left && x < right && y >= top && y < bottom ? 255 : 0;
  }),
});
function torn(hole: Mask): Straight {
  const picture = copyPicture(truth);
  for (let i = 0; i < picture.data.length; i++) if (hole.data[i >> 2] && i % 4 !== 3) picture.data[i] = 255 * (i % 2);
  return picture;
}

function error(picture: { readonly data: ArrayLike<number> }, hole: Mask): number {
  let sum = 0;
  let n = 0;
  for (let i = 0; i < truth.data.length; i++)
    if (i % 4 !== 3 && hole.data[i >> 2]) {
      sum += (picture.data[i] - truth.data[i]) ** 2;
      n++;
    }
  return Math.sqrt(sum / n);
}

describe('a first look at a fill', () => {
  const hole = box(140, 80, 340, 280);
  const given = torn(hole);
  const look = firstLook(given, hole)!;

  test('goes on as the fill will: bars behind the hole, where a smooth fill has none', () => {
    expect(error(look, hole)).toBeLessThan(0.6 * error(smoothArea(given, hole), hole));
  });

  test('leaves everything else as it is, bit for bit', () => {
    look.data.forEach((v, i) => {
      if (!hole.data[i >> 2] || i % 4 === 3) expect(v).toBe(given.data[i]);
    });
  });

  test('meets its seam: no step beside the hole that the wall has not', () => {
    const step = (x: number, from: number, to: number): number =>
      Math.abs(look.data[(from * width + x) * 4] - look.data[(to * width + x) * 4]);
    const steps = Array.from({ length: 200 }, (_, k) => step(140 + k, 79, 80)).sort((a, b) => a - b);
    expect(steps[100]).toBeLessThan(12);
  });

  test('what is of no account has no part in it', () => {
    // A red thing beside the hole that hides the ground, too.
    const thing = box(340, 80, 380, 280);
    const red = copyPicture(given);
    thing.data.forEach((v, i) => {
      if (v) red.data.set([255, 0, 0], i * 4);
    });
    const seen = firstLook(red, hole, { ignore: thing })!;
    let reds = 0;
    hole.data.forEach((v, i) => {
      if (v && seen.data[i * 4] > seen.data[i * 4 + 1] + 60) reds++;
    });
    expect(reds).toBe(0);
  });

  test('there is none of a small hole: that is filled at once', () => {
    expect(firstLook(given, box(140, 80, 230, 170))).toBeUndefined();
  });
});
