import { FEATURES, markGround, type MarkGround } from './nodes';
import { Cholesky } from './cholesky';
import { covariance, REACH, scaled } from './covariance';
import { depthFromMarks } from './depthFromMarks';
import { foretellNodes } from './foretellNodes';
import { marksOf } from './marksOf';
import { depthAt, regress } from './regress';
import { samplesOf, type Mark } from './samples';
import { smoothFromMarks } from './smoothFromMarks';
import { pictureOf, type Picture8 } from '../../raster/picture';
import { seeded } from '@/tests/support/chance';

const WIDTH = 120;
const HEIGHT = 90;

/** Three grounds: a green floor below, a blue wall above, a red thing before both. */
function scene(): Picture8 {
  const random = seeded(3);
  const data = new Uint8Array(WIDTH * HEIGHT * 4);
  for (let y = 0, i = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++, i += 4) {
      const noise = Math.floor(random() * 9) - 4;
      const red = thing(x, y);
      const ground = y > 45 ? [60, 150, 60] : [70, 90, 190];
      const colour = red ? [190, 40, 40] : ground;
      for (let c = 0; c < 3; c++) data[i + c] = colour[c] + noise;
      data[i + 3] = 255;
    }
  return pictureOf({ width: WIDTH, height: HEIGHT }, data, 'straight');
}
const thing = (x: number, y: number): boolean => x >= 50 && x < 75 && y >= 20 && y < 75;
const bar = (x0: number, y0: number, long: number, depth?: number): Mark => ({
  pixels: Array.from({ length: long * 4 }, (_, n) => (y0 + (n & 3)) * WIDTH + x0 + (n >> 2)),
  ...(depth === undefined ? {} : { depth }),
});
const mean = (depth: Float32Array, inside: (x: number, y: number) => boolean): number => {
  let [sum, many] = [0, 0];
  for (let i = 0; i < depth.length; i++)
    if (inside(i % WIDTH, Math.floor(i / WIDTH))) {
      sum += depth[i];
      many++;
    }
  return sum / many;
};

let picture: Picture8;
let ground: MarkGround;
beforeAll(() => {
  picture = scene();
  ground = markGround(picture);
});

describe('marks', () => {
  test('each area of one value that hangs together, also by its corners, is a mark; what is clear is none', () => {
    const values = [
      [200, 200, 0, 90],
      [0, 0, 200, 0],
      [90, 0, 0, 200],
    ];
    const data = new Uint8Array(12 * 4);
    values.flat().forEach((v, i) => data.set([v, v, v, v > 0 ? 255 : 0], i * 4));
    const marks = marksOf(pictureOf({ width: 4, height: 3 }, data, 'straight'));
    expect(
      marks.map(({ depth, pixels }) => [Math.round(depth! * 255), [...(pixels as number[])].sort((a, b) => a - b)]),
    ).toEqual([
      [200, [0, 1, 6, 11]],
      [90, [3]],
      [90, [8]],
    ]);
  });

  test('a clear picture, and one of noise, are refused by name', () => {
    const clear = pictureOf({ width: 4, height: 3 }, new Uint8Array(48), 'straight');
    expect(() => marksOf(clear)).toThrow('There are no marks');
    const noise = pictureOf(
      { width: 100, height: 100 },
      new Uint8Array(40000).map((_, k) => (k % 4 === 3 ? 255 : (k * 37) % 251)),
      'straight',
    );
    expect(() => marksOf(noise)).toThrow('more than 2000 marks');
  });

  test('what looks alike takes the depth of its mark, up to its edge', () => {
    const depth = depthFromMarks(
      picture,
      ground,
      [bar(10, 10, 100, 0.1), bar(10, 80, 100, 0.6), bar(55, 40, 15, 0.9)],
      {
        exact: true,
      },
    )!;
    expect(mean(depth, (x, y) => thing(x, y))).toBeGreaterThan(0.8);
    expect(mean(depth, (x, y) => y < 40 && x > 85)).toBeLessThan(0.25);
    // Two px inside and outside the thing's left edge.
    expect(
      mean(depth, (x, y) => x === 52 && y > 25 && y < 45) - mean(depth, (x, y) => x === 47 && y > 25 && y < 45),
    ).toBeGreaterThan(0.4);
  });

  // The regression allows a mark with 12 px in a node an error of sqrt(3e-4 (1 + 10 / 12)) = 0.0235.
  test('planes go on beyond their marks', () => {
    const flat = pictureOf({ width: WIDTH, height: HEIGHT }, new Uint8Array(WIDTH * HEIGHT * 4).fill(128), 'straight');
    const plane = (y: number): number => 0.2 + (0.5 * y) / HEIGHT;
    const rows = [20, 35, 50, 65].map((y) => bar(20, y, 60, plane(y + 2)));
    const depth = depthFromMarks(flat, markGround(flat), rows, { method: 'look' })!;
    for (const y of [25, 43, 62])
      expect(Math.abs(mean(depth, (_, v) => v === y) - plane(y + 0.5))).toBeLessThan(0.0235);
  });

  test('depth stays within its marks, by a fiftieth; nothing is said without a depth', () => {
    const depth = depthFromMarks(picture, ground, [bar(10, 10, 30, 0.3), bar(10, 80, 30, 0.5)])!;
    expect(Math.min(...depth)).toBeGreaterThanOrEqual(0.28 - 1e-6);
    expect(Math.max(...depth)).toBeLessThanOrEqual(0.52 + 1e-6);
    expect(depthFromMarks(picture, ground, [bar(10, 10, 30)])).toBeUndefined();
  });
});

describe('relations', () => {
  const known = [bar(10, 10, 30, 0.1), bar(10, 80, 30, 0.6)];
  const on = (depth: Float32Array, mark: Mark): number =>
    Array.from(mark.pixels).reduce((sum, i) => sum + depth[i], 0) / mark.pixels.length;

  test('what is as deep as another becomes so', () => {
    const marks = [...known, bar(55, 30, 15)];
    const depth = depthFromMarks(picture, ground, marks, { relations: [{ kind: 'same', mark: 2, than: 1 }] })!;
    expect(on(depth, marks[2])).toBeCloseTo(on(depth, marks[1]), 1);
    expect(Math.abs(on(depth, marks[2]) - 0.6)).toBeLessThan(0.04);
  });

  test('what is nearer than another becomes so by its margin, and is left alone where it is already', () => {
    const marks = [...known, bar(55, 30, 15)];
    const samples = samplesOf(ground, ground.nodes(0), marks);
    const at = (answer: ReturnType<typeof regress>, mark: number): number => {
      const held = [...samples.marks.keys()].filter((n) => samples.marks[n] === mark);
      return (
        held.reduce((sum, n) => sum + depthAt(answer, { features: answer.features, first: n * FEATURES }), 0) /
        held.length
      );
    };
    const free = regress(samples, marks, [], REACH);
    const before = at(free, 2) - at(free, 1);
    const nearer = regress(samples, marks, [{ kind: 'nearer', mark: 2, than: 1, by: before + 0.2 }], REACH);
    expect(at(nearer, 2) - at(nearer, 1)).toBeCloseTo(before + 0.2, 2);
    const already = regress(samples, marks, [{ kind: 'nearer', mark: 1, than: 0, by: 0.1 }], REACH);
    expect(already.weights).toEqual(free.weights);
  });
});

describe('the regression', () => {
  const marks = [bar(10, 10, 30, 0.1), bar(10, 80, 30, 0.6), bar(55, 40, 15, 0.9), bar(90, 60, 20, 0.5)];

  test('the error of marks left out, in closed form, is that of leaving them out', () => {
    const samples = samplesOf(ground, ground.nodes(0), marks);
    const { leftOut } = regress(samples, marks, [], REACH);
    const errors = marks.map((mark, m) => {
      const rest = marks.map((other, n) => (n === m ? { pixels: other.pixels } : other));
      const answer = regress(samples, rest, [], REACH);
      const held = [...samples.marks.keys()].filter((n) => samples.marks[n] === m);
      return (
        held.reduce(
          (sum, n) => sum + Math.abs(mark.depth! - depthAt(answer, { features: answer.features, first: n * FEATURES })),
          0,
        ) / held.length
      );
    });
    expect(leftOut()).toBeCloseTo(errors.reduce((a, b) => a + b, 0) / errors.length, 6);
  });

  test('what the kernel says of nodes is what the sum says, and its slopes are differences', () => {
    const nodes = ground.nodes(1);
    const samples = samplesOf(ground, nodes, marks);
    const answer = regress(samples, marks, [], REACH);
    const { depths, slopes } = foretellNodes(nodes, answer);
    const at = (n: number, feature?: number, by = 0): number => {
      const moved = nodes.features.slice(n * FEATURES, (n + 1) * FEATURES);
      if (feature !== undefined) moved[feature] += by;
      return depthAt(answer, { features: scaled(moved, REACH), first: 0 });
    };
    for (let n = 0; n < nodes.count; n += 97) {
      expect(depths[n]).toBeCloseTo(at(n), 4);
      for (let f = 0; f < 5; f++) {
        const step = 2e-3;
        expect(slopes[n * 5 + f]).toBeCloseTo((at(n, f, step) - at(n, f, -step)) / (2 * step), 2);
      }
    }
  });

  test('two places as alike as can be have the covariance of their kinds', () => {
    const middle = scaled(Float32Array.from([0.5, 0.3, 0, 0, 0, 0, 0, 0, 0]), REACH);
    expect(covariance({ features: middle, first: 0 }, { features: middle, first: 0 }, REACH)).toBeCloseTo(
      0.008 + 0.05 + 1,
      6,
    );
  });
});

test('a matrix in its factors solves, and gives its inverse', () => {
  const random = seeded(5);
  const n = 12;
  const half = Float64Array.from({ length: n * n }, () => random() - 0.5);
  const matrix = new Float64Array(n * n);
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++) {
      for (let k = 0; k < n; k++) matrix[i * n + j] += half[i * n + k] * half[j * n + k];
      if (i === j) matrix[i * n + j] += 0.1;
    }
  const right = Float64Array.from({ length: n }, random);
  const factor = new Cholesky(matrix, n);
  const x = factor.solve(right);
  const inverse = factor.inverse();
  for (let i = 0; i < n; i++) {
    let [back, product] = [0, 0];
    for (let k = 0; k < n; k++) {
      back += matrix[i * n + k] * x[k];
      product += inverse[i * n + k] * right[k];
    }
    expect(back).toBeCloseTo(right[i], 9);
    expect(product).toBeCloseTo(x[i], 9);
  }
});

test('spread along edges only, marks keep their depth and it stops at an edge', () => {
  const depth = smoothFromMarks(picture, [
    { ...bar(10, 10, 30), depth: 0.1 },
    { ...bar(55, 40, 15), depth: 0.9 },
  ]);
  expect(mean(depth, (x, y) => x >= 12 && x < 38 && y >= 11 && y < 13)).toBeCloseTo(0.1, 1);
  expect(
    mean(depth, (x, y) => x === 53 && y > 35 && y < 50) - mean(depth, (x, y) => x === 47 && y > 35 && y < 45),
  ).toBeGreaterThan(0.4);
});
