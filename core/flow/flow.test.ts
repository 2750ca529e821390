import { seeded } from '@/tests/support/chance';
import { before, noChain } from './chain';
import { resizedFlow, type FlowField } from './flowField';
import { inverseSearch } from './inverseSearch';
import { halfOf, type Plane } from './plane';
import { sampledAt } from '../raster/sampledAt';
import { trustOf } from './trust';

const [width, height] = [160, 120];
/** A soft texture that is known everywhere, between pixels too: waves of many directions. */
const random = seeded(9);
const waves = Array.from({ length: 40 }, () => [random() * 0.5 - 0.25, random() * 0.5 - 0.25, random() * 7, 6]);
const grey = (x: number, y: number): number =>
  waves.reduce((sum, [u, v, phase, high]) => sum + high * Math.sin(u * x + v * y + phase), 128);
const planeOf = (f: (x: number, y: number) => number): Plane => ({
  width,
  height,
  data: Float32Array.from({ length: width * height }, (_, i) => f(i % width, Math.floor(i / width))),
});
const first = planeOf(grey);

/** The mean distance of a field from the truth, px, away from the border. */
function off(flow: FlowField, truth: (x: number, y: number) => readonly [number, number]): number {
  let [sum, n] = [0, 0];
  for (let y = 12; y < height - 12; y++)
    for (let x = 12; x < width - 12; x++) {
      const [u, v] = truth(x, y);
      sum += Math.hypot(flow.dx[y * width + x] - u, flow.dy[y * width + x] - v);
      n++;
    }
  return sum / n;
}

describe('flow of known motions', () => {
  // What lies at x in the first frame lies at x + move(x) in the second: the second is the first taken back.
  test.each([
    ['a shift', 2.3, -1.7],
    ['a long one', 11.4, 6.2],
  ])('%s', (_name, u, v) => {
    const flow = inverseSearch(
      first,
      planeOf((x, y) => grey(x - u, y - v)),
    );
    expect(off(flow, () => [u, v])).toBeLessThan(0.1);
  });

  test('a turn and a zoom around the middle', () => {
    // A patch goes as a whole: at the rim of its 8 px a zoom of .04 and a turn of .03 are worth .2 px.
    // x' = m + A (x - m), so that the second frame at x' shows the first at m + A^-1 (x' - m).
    const [c, s, zoom] = [Math.cos(0.03), Math.sin(0.03), 1.04];
    const [mx, my] = [width / 2, height / 2];
    const second = planeOf((x, y) => {
      const [px, py] = [(x - mx) / zoom, (y - my) / zoom];
      return grey(mx + c * px + s * py, my - s * px + c * py);
    });
    const truth = (x: number, y: number): [number, number] => {
      const [px, py] = [x - mx, y - my];
      return [zoom * (c * px - s * py) - px, zoom * (s * px + c * py) - py];
    };
    expect(off(inverseSearch(first, second), truth)).toBeLessThan(0.25);
  });

  test('nothing moves where nothing has', () => {
    expect(off(inverseSearch(first, first), () => [0, 0])).toBeLessThan(1e-3);
  });
});

test('a field is trusted where the way back leads back', () => {
  const shift = (u: number): FlowField => ({
    width,
    height,
    dx: new Float32Array(width * height).fill(u),
    dy: new Float32Array(width * height),
  });
  expect(trustOf(shift(3), shift(-3))[5000]).toBeCloseTo(1, 5);
  // 1 px off: exp(-1 / (2 (0.25 + 0.01 (9 + 4)))).
  expect(trustOf(shift(3), shift(-2))[5000]).toBeCloseTo(Math.exp(-1 / (2 * (0.25 + 0.13))), 4);
});

test('chains add up', () => {
  const step = (u: number, v: number): FlowField => ({
    width,
    height,
    dx: new Float32Array(width * height).fill(u),
    dy: new Float32Array(width * height).fill(v),
  });
  const sure = new Float32Array(width * height).fill(0.5);
  const back = before(step(-2, 1), sure, before(step(-1.25, 0), sure, noChain(first)));
  const i = 60 * width + 80;
  expect([back.dx[i], back.dy[i], back.trust[i]]).toEqual([-3.25, 1, 0.25]);
});

test('planes halve, and fields grow with their px', () => {
  const half = halfOf(planeOf((x, y) => x + 2 * y));
  expect(sampledAt(half, 10, 5)).toBeCloseTo(20.5 + 2 * 10.5, 4);
  expect(sampledAt(half, 10.5, 5)).toBeCloseTo(21.5 + 2 * 10.5, 4);
  const small: FlowField = { width: 2, height: 2, dx: Float32Array.of(1, 3, 1, 3), dy: Float32Array.of(0, 0, 2, 2) };
  const grown = resizedFlow(small, { width: 4, height: 4 });
  expect([...grown.dx.subarray(0, 4)]).toEqual([2, 3, 5, 6]);
  expect([grown.dy[0], grown.dy[12]]).toEqual([0, 4]);
});
