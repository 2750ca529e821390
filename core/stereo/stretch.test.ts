import { stretchOf } from './stretch';

const width = 40;
const height = 4;
const map = (f: (x: number) => number) => ({
  width,
  height,
  data: Uint16Array.from({ length: width * height }, (_, i) => Math.round(f(i % width) * 65535)),
});

test('a ramp of 1 px of parallax a pixel is stretched by half as much again in each eye, a flat one not at all', () => {
  const ramp = stretchOf(
    map((x) => x / 39),
    { budget: { nearPx: -39, farPx: 0 }, tearPx: 2, reach: 0.5 },
  );
  expect(ramp.factor[5]).toBeCloseTo(1.5, 2);
  expect(
    stretchOf(
      map(() => 0.4),
      { budget: { nearPx: -39, farPx: 0 }, tearPx: 2, reach: 0.5 },
    ).worst.factor,
  ).toBe(1);
});
test('a jump beyond the tear limit is torn, not stretched; below it the worst place is named', () => {
  const step = map((x) => (x < 20 ? 0 : 1));
  expect(stretchOf(step, { budget: { nearPx: -10, farPx: 0 }, tearPx: 2, reach: 0.5 }).worst.factor).toBe(1);
  expect(stretchOf(step, { budget: { nearPx: -10, farPx: 0 }, tearPx: 20, reach: 0.5 }).worst).toEqual({
    x: 19,
    y: 0,
    factor: 6,
  });
});
test('only what is covered counts', () => {
  const cover = { width, height, data: new Uint8Array(width * height) };
  expect(
    stretchOf(
      map((x) => (x < 20 ? 0 : 1)),
      { budget: { nearPx: -10, farPx: 0 }, tearPx: 20, reach: 0.5, cover },
    ).worst.factor,
  ).toBe(1);
});
