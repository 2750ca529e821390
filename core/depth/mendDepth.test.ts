import { mendDepth, mendedSentence } from './mendDepth';

const width = 200;
const height = 120;
const map = (value: (x: number, y: number) => number) => ({
  width,
  height,
  data: Uint16Array.from({ length: width * height }, (_, i) => value(i % width, Math.floor(i / width))),
});

describe('mendDepth', () => {
  test('of a map of 16 bits with sharp edges changes nothing, and has nothing to say', () => {
    const fine = map((x, y) => (x < 90 ? 50000 + 7 * y : 9001 + 3 * x));
    const { map: got, mended } = mendDepth(fine, true);
    expect(got.data).toEqual(fine.data);
    expect(mended).toEqual({ unknown: 0, terraces: false, softEdges: false });
    expect(mendedSentence(mended)).toBeUndefined();
  });

  test('tells terraces, soft edges and unknown places, each in words', () => {
    const soft = map((x) => Math.round(9001 + 41003 / (1 + Math.exp((x - 100) / 0.8))));
    expect(mendDepth(soft, true).mended).toEqual({ unknown: 0, terraces: false, softEdges: true });
    const steps = map((x, y) => Math.floor((x + y) / 4) * 257);
    expect(mendDepth(steps, true).mended).toEqual({ unknown: 0, terraces: true, softEdges: false });
    // One px in fifty, here and there: 0 where all else is 20 000 and more.
    const torn = map((x, y) => ((x * 7 + y * 13) % 50 === 0 ? 0 : 20001 + 11 * x));
    const { mended, map: whole } = mendDepth(torn, true);
    expect(mended.unknown).toBeCloseTo(0.02, 2);
    expect(whole.data.includes(0)).toBe(false);
    expect(mendedSentence({ unknown: 0.0345, terraces: true, softEdges: true })).toBe(
      '3.5 % of the map said nothing (0, apart from all else) and was filled from the farther side; its 256 steps were smoothed; its softened edges were made sharp. Bring it in with Mend the map off to have it as it is.',
    );
  });
});
