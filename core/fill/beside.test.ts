import { besideStroke, sidesOfStroke } from './beside';

const size = { width: 60, height: 40 };
const at = (mask: { readonly data: Uint8Array }, x: number, y: number): boolean =>
  mask.data[y * size.width + x] === 255;

describe('what lies beside a stroke', () => {
  test('is a band with round ends', () => {
    const band = besideStroke(
      size,
      [
        { x: 20, y: 20 },
        { x: 40, y: 20 },
      ],
      5,
    );
    expect([at(band, 30, 15), at(band, 30, 24), at(band, 30, 25), at(band, 30, 14)]).toEqual([
      true,
      true,
      false,
      false,
    ]);
    expect([at(band, 15, 19), at(band, 14, 20), at(band, 44, 20), at(band, 45, 20)]).toEqual([
      true,
      false,
      true,
      false,
    ]);
    // 20 x 10 px and a disc of radius 5.
    const count = band.data.reduce((n, v) => n + v / 255, 0);
    expect(Math.abs(count - (200 + Math.PI * 25))).toBeLessThan(8);
  });

  test('is cut at the picture’s border; of a stroke without length it is a disc', () => {
    const dot = besideStroke(size, [{ x: 0, y: 0 }], 6);
    const count = dot.data.reduce((n, v) => n + v / 255, 0);
    expect(Math.abs(count - (Math.PI * 36) / 4)).toBeLessThan(4);
  });
});

test('the two sides of a stroke share the picture out, also beyond its ends', () => {
  const [left, right] = sidesOfStroke(size, [
    { x: 30, y: 30 },
    { x: 30, y: 20 },
  ]);
  for (let y = 0; y < size.height; y++)
    for (let x = 0; x < size.width; x++) {
      expect(at(left, x, y)).toBe(x < 30);
      expect(at(right, x, y)).toBe(x >= 30);
    }
});

test('a bent stroke parts the picture along its bend', () => {
  // Down to the middle, then to the right: the lower left is at its right hand.
  const [left, right] = sidesOfStroke(size, [
    { x: 30, y: 5 },
    { x: 30, y: 20 },
    { x: 50, y: 20 },
  ]);
  for (let y = 0; y < size.height; y++)
    for (let x = 0; x < size.width; x++) {
      expect([x, y, at(left, x, y)]).toEqual([x, y, x >= 30 && y < 20]);
      expect(at(right, x, y)).toBe(!at(left, x, y));
    }
  // The same way back: the sides are changed.
  const [back] = sidesOfStroke(size, [
    { x: 50, y: 20 },
    { x: 30, y: 20 },
    { x: 30, y: 5 },
  ]);
  expect(back.data).toEqual(right.data);
});
