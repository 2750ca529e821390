import type { CoreError } from '../../error';
import { pictureOf } from '../../raster/picture';
import { fromOutput } from './fromOutput';
import { inputDims, sidecarSchema, type Sidecar } from './sidecar';
import { toInput } from './toInput';

const sidecar = (part: object): Sidecar => sidecarSchema.parse({ width: 16, height: 16, says: 'nearness', ...part });
/** Red runs across, green down, blue stays. */
const picture = pictureOf(
  { width: 32, height: 32 },
  Uint8Array.from({ length: 32 * 32 * 4 }, (_, n) => {
    const i = n >> 2;
    return [(i % 32) * 8, (i >> 5) * 8, 100, 255][n & 3];
  }),
  'straight',
);

/** The code by which something is refused. */
function refusal(work: () => unknown): string | undefined {
  try {
    work();
  } catch (error) {
    return (error as CoreError).code;
  }
  return undefined;
}

describe('a picture as a network gets it', () => {
  test('is reduced to its size, channel by channel, (value - mean) / std', () => {
    const values = toInput(picture, sidecar({ mean: [0.5, 0.25, 0], std: [0.5, 0.25, 2] }));
    expect(values).toHaveLength(3 * 256);
    // Pixel (3, 5) is the mean of columns 6 and 7, rows 10 and 11.
    const at = 5 * 16 + 3;
    expect(values[at]).toBeCloseTo((52 / 255 - 0.5) / 0.5, 4);
    expect(values[256 + at]).toBeCloseTo((84 / 255 - 0.25) / 0.25, 4);
    expect(values[512 + at]).toBeCloseTo(100 / 255 / 2, 4);
  });

  test('goes in pixel by pixel and blue first where its sidecar says so', () => {
    const bgr = sidecar({ channels: 'bgr', layout: 'nhwc' });
    const values = toInput(picture, bgr);
    const at = (5 * 16 + 3) * 3;
    expect([...values.slice(at, at + 3)].map((v) => Math.round(v * 255))).toEqual([100, 84, 52]);
    expect(inputDims(bgr)).toEqual([1, 16, 16, 3]);
    expect(inputDims(sidecar({}))).toEqual([1, 3, 16, 16]);
  });
});

describe('what a network says', () => {
  const ramp = Float32Array.from({ length: 12 }, (_, i) => i + 5);

  test('lies between far and near', () => {
    const { width, height, depth } = fromOutput(ramp, [1, 1, 3, 4], { says: 'nearness' });
    expect([width, height]).toEqual([4, 3]);
    depth.forEach((v, i) => {
      expect(v).toBeCloseTo(i / 11, 5);
    });
  });

  test('is turned into depth where it is a distance: one over it, up to factor and offset', () => {
    const { depth } = fromOutput(ramp, [3, 4], { says: 'distance' });
    ramp.forEach((d, i) => {
      expect(depth[i]).toBeCloseTo((1 / d - 1 / 16) / (1 / 5 - 1 / 16), 5);
    });
  });

  test.each([
    ['three planes', ramp, [1, 3, 2, 2], 'network-shape'],
    ['one number', ramp.subarray(0, 1), [1, 1], 'network-shape'],
    ['more than its dimensions hold', ramp, [1, 3, 3], 'network-shape'],
    ['infinity', Float32Array.of(1, Infinity, 2, 3), [2, 2], 'network-values'],
    ['no number', Float32Array.of(1, NaN, 2, 3), [2, 2], 'network-values'],
    ['the same everywhere', new Float32Array(12).fill(3), [3, 4], 'network-values'],
  ])('%s is refused', (_name, values, dims, code) => {
    expect(refusal(() => fromOutput(values, dims, { says: 'nearness' }))).toBe(code);
  });
});

test.each([
  ['no size', { says: 'nearness' }],
  ['no meaning', { width: 64, height: 64 }],
  ['a size that no machine holds', { width: 2048, height: 2048, says: 'nearness' }],
  ['a spread of nothing', { width: 64, height: 64, says: 'nearness', std: [1, 0, 1] }],
  ['a word that is not known', { width: 64, height: 64, says: 'nearness', means: [0, 0, 0] }],
])('a sidecar with %s is refused', (_name, json) => {
  expect(sidecarSchema.safeParse(json).success).toBe(false);
});
