import { halveDepth } from './halveDepth';
import { halvePicture, halvePlane } from './halve';
import { HALVINGS, halvingsFor } from './halvings';

const raster = (width: number, ...values: number[]) => ({
  width,
  height: values.length / width,
  data: Uint16Array.from(values),
});

const picture = (width: number, ...values: number[]) => ({
  bits: 16 as const,
  alpha: 'straight' as const,
  width,
  height: values.length / 4 / width,
  data: Uint16Array.from(values),
});

describe('a raster at half its size', () => {
  test('of one channel is the mean over two by two; at an odd border of what is there', () => {
    // Worked by hand: (0 + 10 + 20 + 30) / 4, (6 + 8) / 2 of the last column, (100 + 200) / 2 of the last row.
    expect(halvePlane(raster(3, 0, 10, 6, 20, 30, 8, 100, 200, 65535))).toEqual(raster(2, 15, 7, 150, 65535));
  });

  test('in colours weighs them by alpha: what is clear lends no colour', () => {
    const [opaque, clear] = [
      [60000, 30000, 0, 65535],
      [0, 0, 65535, 0],
    ];
    const { data } = halvePicture(picture(2, ...opaque, ...clear, ...opaque, ...clear));
    expect([...data]).toEqual([60000, 30000, 0, 32768]);
    const half = halvePicture(picture(2, 40000, 0, 0, 40000, 10000, 0, 0, 20000, 0, 0, 0, 0, 0, 0, 0, 0));
    // (40000 · 40000 + 10000 · 20000) / 60000 = 30000.
    expect([...half.data]).toEqual([30000, 0, 0, 15000]);
  });

  test('of depth is never a depth between two things, but the one that covers more, the nearer on a tie', () => {
    expect([...halveDepth(raster(2, 1000, 1000, 1000, 60000)).data]).toEqual([1000]);
    expect([...halveDepth(raster(2, 1000, 60000, 1000, 60000)).data]).toEqual([60000]);
    expect([...halveDepth(raster(2, 1000, 1001, 1002, 1003)).data]).toEqual([1502 - 500]);
  });
});

describe('how often a window can be read halved', () => {
  const whole = { width: 1000, height: 800 };
  test('as long as enough px are left, at most as often as there are copies', () => {
    const window = { left: 0, top: 0, right: 1000, bottom: 800 };
    const wanted = (width: number, height: number) => halvingsFor(window, whole, { width, height });
    expect([wanted(1000, 800), wanted(501, 401), wanted(500, 400), wanted(250, 200), wanted(10, 8)]).toEqual([
      0,
      0,
      1,
      2,
      HALVINGS,
    ]);
  });

  test('where it lies on the grid of the halved copy, or ends with the raster', () => {
    const fit = (left: number, right: number) =>
      halvingsFor({ left, top: 0, right, bottom: 800 }, whole, { width: 10, height: 10 });
    expect([fit(0, 1000), fit(8, 1000), fit(4, 1000), fit(2, 1000), fit(1, 1000), fit(0, 998), fit(0, 996)]).toEqual([
      3, 3, 2, 1, 0, 1, 2,
    ]);
  });
});
