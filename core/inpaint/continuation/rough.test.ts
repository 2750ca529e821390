import { pictureOf, type Mask, type Straight } from '../../raster/picture';
import { continueFill } from './continueFill';
import type { Ground } from './ground';
import { amongLeaves, roughBeside } from './rough';

const width = 220;
const height = 200;
const inHole = (x: number, y: number): boolean => Math.hypot(x - 110, y - 100) < 34;

function ground(grey: (x: number, y: number) => number): Ground {
  const count = width * height;
  const colours = new Float32Array(count * 3);
  const hole = new Uint8Array(count);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      hole[i] = inHole(x, y) ? 1 : 0;
      for (let c = 0; c < 3; c++) colours[i * 3 + c] = grey(x, y);
    }
  const known = hole.map((v) => 1 - v);
  return { width, height, colours, known, from: known, hole };
}

/** Chance without order, 0 to 1, the same every time. Source: Wang's integer hash (from memory). */
function chance(n: number): number {
  let k = Math.imul(n ^ 61 ^ (n >>> 16), 9);
  k ^= k >>> 4;
  k = Math.imul(k, 0x27d4eb2d);
  return ((k ^ (k >>> 15)) >>> 0) / 2 ** 32;
}
const fur = (x: number, y: number): number => 110 + 70 * (chance(y * 997 + x) - 0.5);
/** Round leaves of 6 px, each of its own grey and lighter to one side, one over the other. */
const leaves = (() => {
  const plane = new Float32Array(width * height).fill(70);
  for (let n = 0; n < 6000; n++) {
    const cx = chance(3 * n) * width;
    const cy = chance(3 * n + 1) * height;
    const grey = 60 + 70 * chance(3 * n + 2);
    const way = 6.3 * chance(7 * n + 5);
    for (let y = Math.max(0, Math.ceil(cy - 6)); y < Math.min(height, cy + 6); y++)
      for (let x = Math.max(0, Math.ceil(cx - 6)); x < Math.min(width, cx + 6); x++)
        if (Math.hypot(x - cx, y - cy) < 6)
          plane[y * width + x] = grey + 3 * ((x - cx) * Math.cos(way) + (y - cy) * Math.sin(way));
  }
  return (x: number, y: number): number => plane[y * width + x];
})();
const bars = (x: number, y: number): number => (x % 24 < 5 ? 40 : 150 + y / 8);
const tiles = (x: number, y: number): number => ((Math.floor(x / 20) + Math.floor(y / 20)) % 2 ? 200 : 60);

function meanIn(rough: Float32Array): number {
  let [sum, many] = [0, 0];
  rough.forEach((v, i) => {
    if (!inHole(i % width, Math.floor(i / width))) return;
    sum += v;
    many++;
  });
  return sum / many;
}

describe('how rough the surroundings of a hole are', () => {
  test('wholly in fur; not at all before bars, tiles, a plain wall, or leaves, whose edges lie farther apart', () => {
    expect(meanIn(roughBeside(ground(fur)))).toBeGreaterThan(0.9);
    for (const plain of [bars, tiles, leaves, () => 120]) expect(meanIn(roughBeside(ground(plain)))).toBeLessThan(0.05);
  });

  test('by place: what lies beside fur is rough, what lies beside a wall is not', () => {
    const rough = roughBeside(ground((x, y) => (x < 110 ? fur(x, y) : 120)));
    const at = (x: number): number => rough[100 * width + x];
    expect(at(80)).toBeGreaterThan(0.8);
    expect(at(140)).toBeLessThan(0.2);
    expect(at(100)).toBeGreaterThan(at(120));
  });

  test('leaves are known by their edges, which go every way', () => {
    expect(amongLeaves(ground(leaves))).toBe(true);
    for (const other of [bars, tiles, () => 120]) expect(amongLeaves(ground(other))).toBe(false);
  });
});

describe('what is filled there', () => {
  const hole: Mask = {
    width,
    height,
    data: Uint8Array.from({ length: width * height }, (_, i) => (inHole(i % width, Math.floor(i / width)) ? 255 : 0)),
  };
  const filled = (grey: (x: number, y: number) => number, sampleFrom?: Mask): Straight => {
    const data = new Uint8Array(width * height * 4);
    for (let i = 0; i < width * height; i++) {
      const v = hole.data[i] ? 0 : grey(i % width, Math.floor(i / width));
      data.set([v, v, v, 255], i * 4);
    }
    return continueFill(pictureOf({ width, height }, data, 'straight'), hole, sampleFrom ? { sampleFrom } : {});
  };
  /** Mean step from px to px, in the hole and beside it. */
  const steps = ({ data }: Straight): readonly [inside: number, beside: number] => {
    const sums = [0, 0];
    const many = [0, 0];
    for (let y = 60; y < 140; y++)
      for (let x = 20; x < 200; x++) {
        const n = Math.hypot(x - 110, y - 100) < 30 ? 0 : 1;
        const i = (y * width + x) * 4;
        sums[n] += Math.abs(data[i + 4] - data[i]);
        many[n]++;
      }
    return [sums[0] / many[0], sums[1] / many[1]];
  };

  test.each([
    ['fur', fur],
    ['leaves', leaves],
  ])('%s are patched from around: no blur among them', (_name, grey) => {
    const [inside, beside] = steps(filled(grey));
    expect(inside).toBeGreaterThan(0.5 * beside);
    expect(inside).toBeLessThan(1.5 * beside);
  });

  test('where no whole patch may be sampled it stays smooth', () => {
    const strip: Mask = { ...hole, data: hole.data.map((_, i) => (i % width >= 70 && i % width < 75 ? 255 : 0)) };
    const [inside, beside] = steps(filled(fur, strip));
    expect(inside).toBeLessThan(0.1 * beside);
  });

  test('a wall with nothing on it stays smooth', () => {
    const [inside] = steps(filled((x, y) => 100 + x / 4 + y / 8));
    expect(inside).toBeLessThan(0.5);
  });
});
