import { applyDepthEdit, depthEditSchema, editBounds, type DepthEdit } from './edits';
import { seeded } from '@/tests/support/chance';
import type { DepthMap } from '../raster/picture';
import { BrushStroke, type BrushSettings } from './brush';
import { resizeDepth } from '../raster/resizeDepth';
import { smoothTerraces, terraceStep } from './smoothTerraces';
import type { DepthWindow } from './window';

const window = (width: number, height: number, value = 0, place: Partial<DepthWindow> = {}): DepthWindow => ({
  left: 0,
  top: 0,
  scale: 1,
  width,
  height,
  data: new Uint16Array(width * height).fill(value),
  ...place,
});
const brush: BrushSettings = { mode: 'set', depth: 1, size: 20, hardness: 1, strength: 1, pressure: 'none' };

describe('the brush', () => {
  test('a hard dot sets every pixel whose centre lies well inside, and none outside', () => {
    const w = window(60, 60);
    new BrushStroke(w, brush).add([{ x: 30, y: 30, pressure: 1 }]);
    for (let y = 0; y < 60; y++) {
      for (let x = 0; x < 60; x++) {
        const r = Math.hypot(x + 0.5 - 30, y + 0.5 - 30);
        const v = w.data[y * 60 + x];
        if (r <= 9.5) expect(v).toBe(65535);
        else if (r >= 10.5) expect(v).toBe(0);
      }
    }
  });

  test('its area is that of a disc', () => {
    const w = window(120, 120);
    new BrushStroke(w, { ...brush, size: 80 }).add([{ x: 60.3, y: 59.8, pressure: 1 }]);
    const area = w.data.reduce((n, v) => n + v / 65535, 0);
    expect(area / (Math.PI * 40 * 40)).toBeCloseTo(1, 2);
  });

  test('the same path gives the same depth however its points are bundled', () => {
    const path = Array.from({ length: 30 }, (_, i) => ({
      x: 10 + i * 3,
      y: 40 + 20 * Math.sin(i / 4),
      pressure: 0.2 + i / 40,
    }));
    const settings: BrushSettings = { ...brush, hardness: 0.3, strength: 0.6, pressure: 'strength' };
    const single = window(120, 90, 20000);
    const many = window(120, 90, 20000);
    new BrushStroke(single, settings).add(path);
    const stroke = new BrushStroke(many, settings);
    for (const p of path) stroke.add([p]);
    expect(Buffer.from(many.data.buffer).equals(Buffer.from(single.data.buffer))).toBe(true);
  });

  test('a stroke over itself does not build up', () => {
    const settings: BrushSettings = { ...brush, strength: 0.5 };
    const w = window(60, 60);
    new BrushStroke(w, settings).add([
      { x: 20, y: 30, pressure: 1 },
      { x: 40, y: 30, pressure: 1 },
      { x: 20, y: 30, pressure: 1 },
    ]);
    expect(w.data[30 * 60 + 30]).toBe(32768);
  });

  test('nearer and farther move by the given depth and stop at white and black', () => {
    const up = window(20, 20, 60000);
    const down = window(20, 20, 3000);
    new BrushStroke(up, { ...brush, mode: 'nearer', depth: 0.05 }).add([{ x: 10, y: 10, pressure: 1 }]);
    new BrushStroke(down, { ...brush, mode: 'farther', depth: 0.2 }).add([{ x: 10, y: 10, pressure: 1 }]);
    expect(up.data[10 * 20 + 10]).toBe(60000 + Math.round(0.05 * 65535));
    expect(down.data[10 * 20 + 10]).toBe(0);
  });

  test('pressure sets strength or size', () => {
    const strength = window(40, 40);
    const size = window(40, 40);
    new BrushStroke(strength, { ...brush, pressure: 'strength' }).add([{ x: 20, y: 20, pressure: 0.25 }]);
    new BrushStroke(size, { ...brush, pressure: 'size' }).add([{ x: 20, y: 20, pressure: 0.5 }]);
    expect(strength.data[20 * 40 + 20]).toBe(Math.round(0.25 * 65535));
    expect(size.data[20 * 40 + 13]).toBe(0); // 6.5 px away, radius 5
    expect(size.data[20 * 40 + 17]).toBe(65535);
  });

  test('smooth leaves an even slope alone and lowers a step', () => {
    const slope = window(80, 40);
    const step = window(80, 40);
    for (let i = 0; i < 80 * 40; i++) {
      slope.data[i] = (i % 80) * 800;
      step.data[i] = i % 80 < 40 ? 10000 : 50000;
    }
    const settings: BrushSettings = { ...brush, mode: 'smooth', size: 30 };
    const before = slope.data.slice();
    for (const w of [slope, step]) new BrushStroke(w, settings).add([{ x: 40, y: 20, pressure: 1 }]);
    expect(Math.max(...slope.data.map((v, i) => Math.abs(v - before[i])))).toBeLessThanOrEqual(1);
    expect(step.data[20 * 80 + 40] - step.data[20 * 80 + 39]).toBeLessThan(12000);
    expect(step.data[20 * 80 + 5]).toBe(10000);
  });

  test('the preview paints what the full size will be: half size against the mean of the full one', () => {
    const stroke: DepthEdit = {
      kind: 'stroke',
      ...brush,
      size: 40,
      hardness: 0.2,
      strength: 0.8,
      points: [
        { x: 30, y: 30, pressure: 1 },
        { x: 150, y: 90, pressure: 1 },
      ],
    };
    const full = window(200, 120, 8000);
    const half = window(100, 60, 8000, { scale: 0.5 });
    applyDepthEdit(full, stroke);
    applyDepthEdit(half, stroke);
    let worst = 0;
    for (let y = 0; y < 60; y++) {
      for (let x = 0; x < 100; x++) {
        const mean =
          (full.data[2 * y * 200 + 2 * x] +
            full.data[2 * y * 200 + 2 * x + 1] +
            full.data[(2 * y + 1) * 200 + 2 * x] +
            full.data[(2 * y + 1) * 200 + 2 * x + 1]) /
          4;
        worst = Math.max(worst, Math.abs(mean - half.data[y * 100 + x]));
      }
    }
    // A soft edge of 16 px bends by at most 1.5 / 16 of the height a px; half a px of it is 5 % of all depth.
    expect(worst / 65535).toBeLessThan(0.05);
  });

  test('a window cut out of the map gets what the map gets there', () => {
    const stroke: DepthEdit = {
      kind: 'stroke',
      ...brush,
      size: 30,
      hardness: 0.4,
      points: [
        { x: 90, y: 70, pressure: 1 },
        { x: 140, y: 100, pressure: 1 },
      ],
    };
    const whole = window(200, 150, 500);
    const part = window(100, 80, 500, { left: 80, top: 50 });
    applyDepthEdit(whole, stroke);
    applyDepthEdit(part, stroke);
    for (let y = 0; y < 80; y++)
      for (let x = 0; x < 100; x++)
        if (part.data[y * 100 + x] !== whole.data[(y + 50) * 200 + x + 80]) throw new Error(`differs at ${x}, ${y}`);
    const bounds = editBounds(stroke, { width: 200, height: 150 })!;
    whole.data.forEach((v, i) => {
      const x = i % 200;
      const y = Math.floor(i / 200);
      if (v !== 500) expect(x >= bounds.left && x < bounds.right && y >= bounds.top && y < bounds.bottom).toBe(true);
    });
  });
});

describe('the ramp', () => {
  const ramp = (part: object): DepthEdit =>
    depthEditSchema.parse({
      kind: 'ramp',
      from: { x: 10, y: 0, depth: 0.2 },
      to: { x: 90, y: 0, depth: 0.8 },
      reach: 'everywhere',
      against: 'replace',
      ...part,
    });
  test('is linear between its ends and holds them beyond', () => {
    const w = window(100, 4);
    applyDepthEdit(w, ramp({}));
    for (const x of [10, 33, 50, 89]) expect(w.data[x] / 65535).toBeCloseTo(0.2 + (0.6 * (x + 0.5 - 10)) / 80, 4);
    expect(w.data[0]).toBe(Math.round(0.2 * 65535));
    expect(w.data[99]).toBe(Math.round(0.8 * 65535));
  });
  test('leaves alone what lies beyond, or what is nearer, where asked to', () => {
    const between = window(100, 4, 7);
    const nearer = window(100, 4, 32768);
    applyDepthEdit(between, ramp({ reach: 'between' }));
    applyDepthEdit(nearer, ramp({ against: 'nearer' }));
    expect([between.data[5], between.data[95]]).toEqual([7, 7]);
    expect(nearer.data[20]).toBe(32768);
    expect(nearer.data[80]).toBeGreaterThan(40000);
  });
});

describe('the outline', () => {
  test('fills exactly the pixels whose centres lie inside, with holes by the even-odd rule', () => {
    const w = window(40, 40, 9);
    // A square with a square hole, joined by a seam of no width.
    const points = [
      [5, 5],
      [35, 5],
      [35, 35],
      [5, 35],
      [5, 5],
      [15, 15],
      [25, 15],
      [25, 25],
      [15, 25],
      [15, 15],
    ].map(([x, y]) => ({ x, y }));
    applyDepthEdit(w, { kind: 'polygon', depth: 1, points });
    const inside = (x: number, y: number): boolean =>
      x >= 5 && x < 35 && y >= 5 && y < 35 && !(x >= 15 && x < 25 && y >= 15 && y < 25);
    w.data.forEach((v, i) => {
      if (v !== (inside(i % 40, Math.floor(i / 40)) ? 65535 : 9))
        throw new Error(`wrong at ${i % 40}, ${Math.floor(i / 40)}`);
    });
  });
  test('misses the map without harm', () => {
    const edit: DepthEdit = {
      kind: 'polygon',
      depth: 1,
      points: [
        { x: 100, y: 100 },
        { x: 120, y: 100 },
        { x: 110, y: 130 },
      ],
    };
    expect(editBounds(edit, { width: 50, height: 50 })).toBeUndefined();
    expect(applyDepthEdit(window(50, 50), edit)).toBeUndefined();
  });
});

describe('another size', () => {
  const chance = seeded(4);
  test('smaller: the mean of one thing, never a depth between two', () => {
    const map: DepthMap = {
      width: 90,
      height: 60,
      data: Uint16Array.from({ length: 5400 }, (_, i) => (i % 90 < 47 ? 10000 + (i % 3) : 50000 + (i % 5))),
    };
    const small = resizeDepth(map, { width: 40, height: 25 });
    for (const v of small.data) expect(Math.min(Math.abs(v - 10001), Math.abs(v - 50002))).toBeLessThan(4);
  });
  test('larger: linear on slopes, sharp at jumps', () => {
    const map: DepthMap = {
      width: 20,
      height: 10,
      data: Uint16Array.from({ length: 200 }, (_, i) => (i % 20 < 10 ? (i % 20) * 100 : 60000)),
    };
    const large = resizeDepth(map, { width: 80, height: 40 });
    expect(large.data[12]).toBeCloseTo(((12.5 / 80) * 20 - 0.5) * 100, -1);
    for (const v of large.data) expect(v <= 900 || v === 60000).toBe(true);
  });
  test('the same size is the same map', () => {
    const map: DepthMap = {
      width: 7,
      height: 5,
      data: Uint16Array.from({ length: 35 }, () => Math.floor(chance() * 65536)),
    };
    expect([...resizeDepth(map, { width: 7, height: 5 }).data]).toEqual([...map.data]);
  });
});

describe('terraces of 8-bit maps', () => {
  test('a slope of terraces becomes a slope, and no value leaves its step', () => {
    const map: DepthMap = {
      width: 200,
      height: 8,
      data: Uint16Array.from({ length: 1600 }, (_, i) => Math.floor((i % 200) / 10) * 257),
    };
    const smooth = smoothTerraces(map);
    let jumps = 0;
    for (let x = 20; x < 180; x++) jumps = Math.max(jumps, Math.abs(smooth.data[x + 1] - smooth.data[x]));
    expect(jumps).toBeLessThan(257 / 3);
    smooth.data.forEach((v, i) => {
      if (Math.abs(v - map.data[i]) > 129) throw new Error('left its step');
    });
  });
  test('their step is found also in the guise of 16 bits; finer values have none', () => {
    const map = (value: (i: number) => number): DepthMap => ({
      width: 32,
      height: 8,
      data: Uint16Array.from({ length: 256 }, (_, i) => value(i)),
    });
    expect(terraceStep(map((i) => i * 257))).toBe(257);
    expect(terraceStep(map((i) => i * 256))).toBe(256);
    expect(terraceStep(map((i) => (i % 250) * 257 + (i === 100 ? 1 : 0)))).toBeUndefined();
    // A cut-out of two values is meant, and so is nothing at all.
    expect(terraceStep(map((i) => (i & 1) * 65535))).toBeUndefined();
    expect(terraceStep(map(() => 0))).toBeUndefined();
  });
  test('jumps of more than a step stay exactly where they are', () => {
    const map: DepthMap = {
      width: 40,
      height: 4,
      data: Uint16Array.from({ length: 160 }, (_, i) => (i % 40 < 20 ? 0 : 4 * 257)),
    };
    expect([...smoothTerraces(map).data]).toEqual([...map.data]);
  });
});

test('an edit from outside is checked before it touches anything', () => {
  expect(depthEditSchema.safeParse({ kind: 'stroke', ...brush, points: [] }).success).toBe(false);
  expect(
    depthEditSchema.safeParse({ kind: 'stroke', ...brush, depth: 1.2, points: [{ x: 1, y: 1, pressure: 1 }] }).success,
  ).toBe(false);
  expect(
    depthEditSchema.safeParse({ kind: 'stroke', ...brush, points: [{ x: Number.NaN, y: 1, pressure: 1 }] }).success,
  ).toBe(false);
  expect(
    depthEditSchema.safeParse({
      kind: 'polygon',
      depth: 0.5,
      points: [
        { x: 0, y: 0 },
        { x: 1, y: 0 },
      ],
    }).success,
  ).toBe(false);
  expect(depthEditSchema.safeParse({ kind: 'erase' }).success).toBe(false);
});
