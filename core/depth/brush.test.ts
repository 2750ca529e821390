import { seeded } from '@/tests/support/chance';
import { BrushStroke, looksAround, strokeBounds, type BrushSettings, type StrokePoint } from './brush';
import { applyDepthEdit, depthEditSchema, goesByTiles, needsColours } from './edits';
import { leafNoise } from './leafNoise';
import { applyRamp, type Ramp } from './ramp';
import type { DepthWindow } from './window';

const WIDTH = 120;
const HEIGHT = 80;
const brush: BrushSettings = { mode: 'set', depth: 1, size: 40, hardness: 1, strength: 1, pressure: 'none' };
const pen = (...xs: number[]): StrokePoint[] => xs.map((x) => ({ x, y: 40, pressure: 1 }));
/** Depth and colours as functions of the place. */
function scene(
  depth: (x: number, y: number) => number,
  colour: (x: number, y: number) => number = () => 90,
): DepthWindow {
  const at = (i: number): [number, number] => [i % WIDTH, Math.floor(i / WIDTH)];
  const random = seeded(5);
  return {
    ...{ left: 0, top: 0, scale: 1, width: WIDTH, height: HEIGHT },
    data: Uint16Array.from({ length: WIDTH * HEIGHT }, (_, i) => depth(...at(i)) * 65535),
    colours: Uint8Array.from({ length: WIDTH * HEIGHT * 4 }, (_, k) =>
      k % 4 === 3 ? 255 : colour(...at(k >> 2)) + Math.round(random()),
    ),
  };
}
const depthAt = ({ data }: DepthWindow, x: number, y: number): number => data[y * WIDTH + x] / 65535;

describe('a brush that is stopped by edges', () => {
  const wall = (x: number): number => (x < 66 ? 90 : 140);
  const stopped: BrushSettings = { ...brush, edge: 40 };

  test('fills its side of an edge and not the other one', () => {
    const w = scene(() => 0, wall);
    new BrushStroke(w, stopped).add(pen(50, 60));
    // The disc around (60, 40) would reach to column 79.
    expect(depthAt(w, 65, 40)).toBe(1);
    expect(depthAt(w, 65, 30)).toBe(1);
    for (let x = 66; x < 82; x++) expect(depthAt(w, x, 40)).toBe(0);
    const free = scene(() => 0, wall);
    new BrushStroke(free, brush).add(pen(50, 60));
    expect(depthAt(free, 75, 40)).toBe(1);
  });

  test('goes on over grain, and over an edge where the pen itself goes', () => {
    const w = scene(() => 0, wall);
    new BrushStroke(w, stopped).add(pen(50, 72));
    expect(depthAt(w, 80, 40)).toBe(1);
    expect(depthAt(w, 40, 44)).toBe(1);
  });

  test('does not reach behind a thin line, but around its end', () => {
    // A line of one px across the brush, open below.
    const w = scene(
      () => 0,
      (x, y) => (x === 60 && y < 45 ? 200 : 90),
    );
    new BrushStroke(w, stopped).add(pen(50));
    expect(depthAt(w, 58, 40)).toBe(1);
    expect(depthAt(w, 60, 40)).toBe(0);
    expect(depthAt(w, 62, 50)).toBe(1);
  });

  test('gives the same however its points are bundled', () => {
    const path = pen(20, 30, 45, 50, 58, 40, 63);
    const [single, many] = [scene(() => 0.3, wall), scene(() => 0.3, wall)];
    new BrushStroke(single, { ...stopped, hardness: 0.2 }).add(path);
    const stroke = new BrushStroke(many, { ...stopped, hardness: 0.2 });
    for (const p of path) stroke.add([p]);
    expect(Buffer.from(many.data.buffer).equals(Buffer.from(single.data.buffer))).toBe(true);
  });

  test('smooths, but keeps what an edge of the picture parts', () => {
    const noisy = (x: number, y: number): number => (x < 66 ? 0.3 : 0.7) + 0.05 * leafNoise(x, y, 3);
    const step = (w: DepthWindow): number => depthAt(w, 66, 40) - depthAt(w, 65, 40);
    const spread = (w: DepthWindow): number => {
      const row = Array.from({ length: 10 }, (_, n) => depthAt(w, 52 + n, 40));
      return Math.max(...row) - Math.min(...row);
    };
    const kept = scene(noisy, wall);
    new BrushStroke(kept, { ...stopped, mode: 'smooth' }).add(pen(50, 72));
    const lost = scene(noisy, wall);
    new BrushStroke(lost, { ...brush, mode: 'smooth' }).add(pen(50, 72));
    expect(spread(kept)).toBeLessThan(spread(scene(noisy, wall)) / 3);
    expect(step(kept)).toBeGreaterThan(0.3);
    expect(step(lost)).toBeLessThan(0.1);
  });
});

describe('pushing', () => {
  const edge = (x: number): number => (x < 60 ? 0.8 : 0.2);
  const push: BrushSettings = { ...brush, mode: 'push' };

  test('carries an edge along with the brush, as sharp as it was', () => {
    const w = scene(edge);
    new BrushStroke(w, push).add(pen(45, 55, 65));
    // In the brush's middle the depth has gone the whole way of 20 px with it: the edge lies in front of the brush.
    const row = Array.from({ length: WIDTH }, (_, x) => depthAt(w, x, 40));
    const first = row.findIndex((v) => v < 0.5);
    expect(first).toBeGreaterThanOrEqual(78);
    expect(first).toBeLessThanOrEqual(82);
    // Two pixels at most lie between the two.
    expect(row.filter((v) => v > 0.21 && v < 0.79).length).toBeLessThanOrEqual(2);
    // Beside the brush nothing has moved.
    expect(depthAt(w, 59, 10)).toBeCloseTo(0.8, 4);
    expect(depthAt(w, 60, 10)).toBeCloseTo(0.2, 4);
  });

  test('a slope is carried by exactly the pen’s way', () => {
    const w = scene((x) => x / WIDTH);
    new BrushStroke(w, push).add(pen(50, 60));
    // What lies under the middle came from 10 px before it.
    expect(depthAt(w, 60, 40)).toBeCloseTo(50 / WIDTH, 3);
  });

  test('half the strength goes half the way', () => {
    const w = scene((x) => x / WIDTH);
    new BrushStroke(w, { ...push, strength: 0.5 }).add(pen(50, 60));
    expect(depthAt(w, 60, 40)).toBeCloseTo(55 / WIDTH, 3);
  });

  test('stays in its bounds, and gives the same however its points are bundled', () => {
    const path = pen(40, 47, 60, 52, 70);
    const [single, many] = [scene((x, y) => (x + y) / 200), scene((x, y) => (x + y) / 200)];
    new BrushStroke(single, { ...push, hardness: 0.4 }).add(path);
    const stroke = new BrushStroke(many, { ...push, hardness: 0.4 });
    for (const p of path) stroke.add([p]);
    expect(Buffer.from(many.data.buffer).equals(Buffer.from(single.data.buffer))).toBe(true);
    const { left, right, top, bottom } = strokeBounds(push, path);
    const was = scene((x, y) => (x + y) / 200);
    single.data.forEach((v, i) => {
      const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
      if (x < left - 1 || x > right || y < top - 1 || y > bottom) expect(v).toBe(was.data[i]);
    });
  });
});

describe('uneven depth', () => {
  test('lies evenly around nothing, between -1 and 1, smooth from px to px', () => {
    let [sum, squares, most, steepest] = [0, 0, 0, 0];
    const n = 200;
    for (let y = 0; y < n; y++)
      for (let x = 0; x < n; x++) {
        const v = leafNoise(x, y, 10, 3);
        sum += v;
        squares += v * v;
        most = Math.max(most, Math.abs(v));
        steepest = Math.max(steepest, Math.abs(v - leafNoise(x + 1, y, 10, 3)));
      }
    // 400 bumps, of a spread below 0.6: the mean is within 0.6 / 20, three times that nearly always.
    expect(Math.abs(sum / n ** 2)).toBeLessThan(0.09);
    expect(Math.sqrt(squares / n ** 2)).toBeGreaterThan(0.2);
    expect(most).toBeLessThanOrEqual(1);
    // The quintic step rises by 15/8 at most, the corners differ by 2: of 2/3 over 10 px and of 1/3 over 5.
    expect(steepest).toBeLessThanOrEqual((2 * (15 / 8) * (2 / 3)) / 10 + (2 * (15 / 8) * (1 / 3)) / 5);
    expect(leafNoise(12, 7, 10, 3)).not.toBe(leafNoise(12, 7, 10, 4));
  });

  test('is painted the same in any order, and at half size where it lies at full size', () => {
    const uneven: BrushSettings = { ...brush, mode: 'uneven', depth: 0.1, grain: 12 };
    const w = scene(() => 0.5);
    new BrushStroke(w, uneven).add(pen(40));
    for (const [x, y] of [
      [40, 40],
      [33, 47],
      [50, 31],
    ])
      expect(depthAt(w, x, y)).toBeCloseTo(0.5 + 0.1 * leafNoise(x + 0.5, y + 0.5, 12), 4);
    const half: DepthWindow = {
      left: 10,
      top: 20,
      scale: 0.5,
      width: 50,
      height: 30,
      data: new Uint16Array(1500).fill(32768),
    };
    new BrushStroke(half, uneven).add(pen(40));
    expect(half.data[10 * 50 + 15] / 65535).toBeCloseTo(0.5 + 0.1 * leafNoise(10 + 31, 20 + 21, 12), 3);
  });
});

describe('ramps', () => {
  const ramp = (shape: Ramp['shape'], reach: Ramp['reach'] = 'everywhere'): DepthWindow => {
    const w = scene(() => 0.05);
    applyRamp(w, {
      from: { x: 60, y: 40, depth: 0.9 },
      to: { x: 90, y: 40, depth: 0.3 },
      against: 'replace',
      shape,
      reach,
    });
    return w;
  };
  /** What the closed form says at px (x, y). */
  const truth = (t: number): number => 0.9 - 0.6 * Math.min(1, Math.max(0, t));

  test.each([
    ['line', (x: number) => x / 30],
    ['circle', (x: number, y: number) => Math.hypot(x, y) / 30],
    ['reflected', (x: number) => Math.abs(x) / 30],
    [undefined, (x: number) => x / 30],
  ] as const)('%s is its closed form everywhere', (shape, along) => {
    const w = ramp(shape);
    for (let y = 0; y < HEIGHT; y++)
      for (let x = 0; x < WIDTH; x++)
        // Half a step of 16 bits.
        expect(Math.abs(depthAt(w, x, y) - truth(along(x + 0.5 - 60, y + 0.5 - 40)))).toBeLessThan(0.51 / 65535);
  });

  test('a circle that leaves alone what lies beyond it is a disc', () => {
    const w = ramp('circle', 'between');
    let inside = 0;
    w.data.forEach((v) => (inside += v > 0.1 * 65535 ? 1 : 0));
    expect(inside / (Math.PI * 30 * 30)).toBeCloseTo(1, 2);
    expect(depthAt(w, 100, 40)).toBeCloseTo(0.05, 4);
  });
});

test('strokes that look around do not go tile by tile, and those stopped by edges ask for colours', () => {
  const stroke = { kind: 'stroke', ...brush, points: pen(50) };
  const edit = (part: object) => depthEditSchema.parse({ ...stroke, ...part });
  expect(goesByTiles(edit({}))).toBe(true);
  expect(goesByTiles(edit({ mode: 'uneven' }))).toBe(true);
  for (const part of [{ mode: 'push' }, { mode: 'smooth' }, { edge: 30 }]) expect(goesByTiles(edit(part))).toBe(false);
  expect(needsColours(edit({ edge: 30 }))).toBe(true);
  expect(needsColours(edit({ mode: 'push' }))).toBe(false);
  expect(looksAround({ ...brush, edge: 0 })).toBe(false);
  // Where there are no colours nothing stops it.
  const { colours, ...w } = scene(
    () => 0,
    (x) => (x < 55 ? 90 : 200),
  );
  expect(colours).toBeDefined();
  applyDepthEdit(w, edit({ edge: 30 }));
  expect(depthAt(w, 60, 40)).toBe(1);
});
