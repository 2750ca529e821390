import { randomUUID } from 'node:crypto';
import { emptyStraight, pictureOf, type Mask, type Premultiplied } from '../raster/picture';
import type { HeldStroke } from '../shot/document';
import { filledInto } from './filledInto';
import { HandFill } from './handFill';
import { holdStrokes } from './holdStrokes';
import type { PlateGround } from './plateGround';

const width = 80;
const height = 60;
const size = { width, height };
const isHidden = (x: number, y: number): boolean => x >= 20 && x < 60 && y >= 15 && y < 45;
const mask = (is: (x: number, y: number) => boolean): Mask => ({
  ...size,
  data: Uint8Array.from({ length: width * height }, (_, i) => (is(i % width, Math.floor(i / width)) ? 255 : 0)),
});

/** Red above, blue below; what is hidden is grey. */
function ground(): PlateGround<Premultiplied> {
  const data = new Uint8Array(width * height * 4);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 4) {
      const tone = y < 30 ? [200, 40, 40, 255] : [40, 40, 200, 255];
      data.set(isHidden(x, y) ? [120, 120, 120, 255] : tone, i);
    }
  return {
    picture: pictureOf(size, data, 'premultiplied'),
    hidden: mask(isHidden),
    own: mask((x, y) => !isHidden(x, y)),
  };
}
const hole = mask(isHidden);
const stroke = (kind: HeldStroke['kind'], y: number): HeldStroke => ({
  id: randomUUID(),
  kind,
  points: [
    { x: 10, y },
    { x: 70, y },
  ],
  width: 6,
  reach: 8,
});
function hold(...strokes: HeldStroke[]) {
  const bare = ground();
  const hand = new HandFill(bare, { fill: emptyStraight(size, 8), overpaint: emptyStraight(size, 8) });
  const before = Uint8Array.from(hand.picture.data);
  const sampleFrom = { ...size, data: bare.own.data };
  const held = holdStrokes({ bare, hand, hole }, strokes, { method: 'smooth', options: { sampleFrom, ignore: hole } });
  expect(hand.picture.data).toEqual(before);
  expect(hand.fill.data.every((v) => v === 0)).toBe(true);
  return held;
}
const at = ({ data }: Premultiplied, x: number, y: number): number[] =>
  Array.from(data.subarray((y * width + x) * 4, (y * width + x) * 4 + 3));

describe('strokes that are held', () => {
  test('none: the hole is left as it is', () => {
    const { hole: left, done } = hold();
    expect(left.data).toEqual(hole.data);
    expect(done.data.every((v) => v === 0)).toBe(true);
  });

  test('a border: within its reach each side is filled from its own ground, and is done', () => {
    const { picture, hole: left, done } = hold(stroke('border', 30));
    for (const x of [24, 40, 55]) {
      const [above, below] = [at(picture, x, 27), at(picture, x, 33)];
      expect([x, above[0] > above[2] + 60, below[2] > below[0] + 60]).toEqual([x, true, true]);
    }
    for (let i = 0; i < hole.data.length; i++) {
      const away = Math.abs(Math.floor(i / width) + 0.5 - 30);
      if (away < 7 || away > 9) expect(done.data[i] > 0).toBe(hole.data[i] > 0 && away < 8);
      expect(left.data[i]).toBe(hole.data[i] && !done.data[i] ? 255 : 0);
    }
  });

  test('a line is laid along its way; what lies beside it is left to be filled', () => {
    const { picture, done } = hold(stroke('line', 22));
    // Its ends lie on red: so it goes on.
    expect(at(picture, 40, 22)).toEqual([200, 40, 40]);
    expect(at(picture, 40, 30)).toEqual([120, 120, 120]);
    expect([done.data[22 * width + 40], done.data[30 * width + 40]]).toEqual([255, 0]);
  });

  test('one that reaches nothing of the hole changes nothing', () => {
    const { hole: left } = hold(stroke('border', 3));
    expect(left.data).toEqual(hole.data);
  });
});

test('what fills a hole is taken with its colour whole, whatever covers it', () => {
  const filled = pictureOf({ width: 2, height: 1 }, Uint8Array.of(50, 25, 10, 128, 9, 9, 9, 255), 'premultiplied');
  const out = filledInto(emptyStraight({ width: 2, height: 1 }, 8), filled, {
    width: 2,
    height: 1,
    data: Uint8Array.of(255, 0),
  });
  expect(Array.from(out.data)).toEqual([100, 50, 20, 255, 0, 0, 0, 0]);
});
