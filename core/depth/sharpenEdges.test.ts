import type { DepthMap } from '../raster/picture';
import { edgeSoftness, sharpenEdges } from './sharpenEdges';

const width = 120;
const height = 90;
const map = (value: (x: number, y: number) => number): DepthMap => ({
  width,
  height,
  data: Uint16Array.from({ length: width * height }, (_, i) => Math.round(value(i % width, Math.floor(i / width)))),
});
/** A near disc before a slanting floor; each px has the depth of what its middle shows. */
const disc = (x: number, y: number): boolean => Math.hypot(x - 60, y - 45) < 25.3;
const sharp = map((x, y) => (disc(x, y) ? 50000 - 40 * x : 4000 + 100 * y));

/** A binomial blur of sigma .71 px. */
function blurred({ data }: DepthMap): DepthMap {
  const at = (x: number, y: number): number =>
    data[Math.min(height - 1, Math.max(0, y)) * width + Math.min(width - 1, Math.max(0, x))];
  return map((x, y) => {
    let sum = 0;
    for (let v = -1; v <= 1; v++) for (let u = -1; u <= 1; u++) sum += at(x + u, y + v) * (u ? 1 : 2) * (v ? 1 : 2);
    return sum / 16;
  });
}

describe('sharpenEdges', () => {
  test('tells softened edges from sharp ones', () => {
    expect(edgeSoftness(sharp)).toBe(0);
    expect(edgeSoftness(blurred(sharp))).toBeGreaterThan(0.3);
    expect(edgeSoftness(map(() => 7))).toBe(0);
  });

  test('leaves a map with sharp edges as it is, bit for bit', () => {
    expect(sharpenEdges(sharp).data).toEqual(sharp.data);
  });

  test('gives every px beside a softened edge one of the two sides, at most a px from where the edge was', () => {
    const got = sharpenEdges(blurred(sharp));
    let wrong = 0;
    for (let y = 1; y < height - 1; y++)
      for (let x = 1; x < width - 1; x++) {
        const d = got.data[y * width + x];
        const near = d > 40000;
        expect(near || d < 15000).toBe(true);
        if (near === disc(x, y)) continue;
        wrong++;
        const around = [-1, 0, 1].flatMap((v) => [-1, 0, 1].map((u) => disc(x + u, y + v)));
        expect(new Set(around).size).toBe(2);
      }
    // A px is misplaced only where the edge cuts it near its middle.
    expect(wrong).toBeLessThan(0.1 * 2 * Math.PI * 25);
  });

  test('a slope that is no edge stays, also in a map of one row or column', () => {
    const slope = map((x) => x * 500);
    expect(sharpenEdges(slope).data).toEqual(slope.data);
    for (const [w, h] of [
      [9, 1],
      [1, 9],
    ]) {
      const data = Uint16Array.from({ length: 9 }, (_, i) => (i < 4 ? 60000 : 100));
      expect(sharpenEdges({ width: w, height: h, data }).data).toEqual(data);
    }
  });
});
