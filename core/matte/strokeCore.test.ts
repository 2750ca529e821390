import { strokeCores } from './strokeCore';
import { STROKE_IN, STROKE_OUT } from './strokes';

const width = 30;
const height = 20;
const drawn = (...boxes: readonly (readonly [number, number, number, number, number])[]) => {
  const data = new Uint8Array(width * height);
  for (const [left, top, right, bottom, side] of boxes)
    for (let y = top; y < bottom; y++) data.fill(side, y * width + left, y * width + right);
  return strokeCores({ width, height, data });
};
const rows = ({ data }: { data: Uint8Array }, x: number): number[] =>
  Array.from({ length: height }, (_, y) => y).filter((y) => data[y * width + x] !== 0);

describe('the core of a stroke', () => {
  test('is its middle: three rows of five', () => {
    const core = drawn([5, 4, 25, 9, STROKE_IN]);
    expect(rows(core, 15)).toEqual([5, 6, 7]);
    expect(core.data[6 * width + 15]).toBe(STROKE_IN);
  });

  test('of a thin one is all of it; each has its own', () => {
    const core = drawn([2, 2, 28, 3, STROKE_OUT], [5, 8, 25, 15, STROKE_IN]);
    expect(rows(core, 15)).toEqual([2, 10, 11, 12]);
    expect(core.data[2 * width + 15]).toBe(STROKE_OUT);
  });

  test('strokes of two sides that touch are two', () => {
    const core = drawn([5, 4, 25, 9, STROKE_IN], [5, 9, 25, 14, STROKE_OUT]);
    expect(rows(core, 15)).toEqual([5, 6, 7, 10, 11, 12]);
  });
});
