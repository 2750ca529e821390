import { seeded } from '@/tests/support/chance';
import { pictureOf, type DepthMap, type Picture8 } from '../raster/picture';
import { carryDepth, type CarriedDepth, type DepthKey } from './carryDepth';
import { fitMotion, RigidMotion, type MotionSample } from './rigidMotion';
import { splatDepth } from './splatDepth';
import { StillParts } from './stillParts';
import { weightedMedian } from './weightedMedian';

const size = { width: 160, height: 100 };
const TERMS = [0.05, -0.02, 0.08, 0.004, -0.003, 0.01, 0.002, -0.004, 0.006];

describe('a motion', () => {
  const truth = new RigidMotion(size, TERMS, 0);
  const random = seeded(4);
  const sample = (wrong: boolean): MotionSample => {
    const out = new Float64Array(2);
    const [x, y, depth] = [random() * size.width, random() * size.height, random()];
    truth.move(x, y, depth, out);
    const by = wrong ? 8 + 10 * random() : 0.02 * (random() - 0.5);
    return { x, y, depth, dx: out[0] + by, dy: out[1] - by, trust: 1 };
  };

  test('is found again in what it moved, though a third has moved by itself', () => {
    const motion = fitMotion(
      size,
      Array.from({ length: 600 }, (_, n) => sample(n % 3 === 0)),
    );
    motion.terms.forEach((v, n) => {
      expect(Math.abs(v - TERMS[n])).toBeLessThan(0.002);
    });
    expect(motion.residual).toBeLessThan(0.1);
  });

  test('is none where nothing moves before a flat scene, whose terms stand for each other', () => {
    const still = Array.from({ length: 300 }, (): MotionSample => {
      const by = 0.01 * (random() - 0.5);
      return { x: random() * 160, y: random() * 100, depth: 0.3, dx: by, dy: -by, trust: 1 };
    });
    const motion = fitMotion(size, still);
    expect(Math.abs(motion.depthAfter(0.3) - 0.3)).toBeLessThan(1e-3);
  });

  test('takes a place where a pinhole would see it, and its depth with it', () => {
    // A camera that comes nearer by a quarter of the distance of white: c = 1/4, seen from the middle.
    const nearer = new RigidMotion(size, [0, 0, 0.25, 0, 0, 0, 0, 0, 0], 0);
    const out = new Float64Array(2);
    nearer.move(120, 50, 0.5, out);
    // At twice the distance of white, 2 - 1/4 are left: 40 px from the middle become 40 * 2 / 1.75.
    expect(out[0]).toBeCloseTo(40 * (2 / 1.75) - 40, 6);
    expect(nearer.depthAfter(0.5)).toBeCloseTo(1 / 1.75, 6);
  });
});

test('depth is laid where it goes; the nearest wins, cracks close, and what is uncovered stays open', () => {
  const map: DepthMap = { ...size, data: new Uint16Array(16000) };
  map.data.fill(13107);
  for (let y = 20; y < 80; y++) map.data.fill(52428, y * 160 + 60, y * 160 + 100);
  // Sixteen px to the right at depth 1.
  const { depth, from } = splatDepth(map, new RigidMotion(size, [0.2, 0, 0, 0, 0, 0, 0, 0, 0], 0));
  const row = Array.from({ length: 160 }, (_, x) => depth[50 * 160 + x]);
  // .2 of all depth moves by 3.2 px, .8 by 12.8 px.
  expect(row[50]).toBeCloseTo(0.2, 3);
  expect(row[75]).toBeCloseTo(0.8, 3);
  expect(row[110]).toBeCloseTo(0.8, 3);
  expect(row[116]).toBeCloseTo(0.2, 3);
  expect(row.slice(64, 72)).toContain(-1);
  expect(from[50 * 160 + 90]).toBe(50 * 160 + 77);
});

test('a lone pixel takes the depth of what looks alike around it, an edge of colour keeps its own', () => {
  const picture = pictureOf(
    size,
    Uint8Array.from({ length: 64000 }, (_, k) => ((k >> 2) % 160 < 80 ? 60 : 200)),
    'straight',
  );
  const depth = new Float32Array(16000).map((_, i) => (i % 160 < 80 ? 0.2 : 0.7));
  depth[50 * 160 + 40] = 0.9;
  const out = weightedMedian(depth, picture, 0.03);
  expect(out[50 * 160 + 40]).toBeCloseTo(0.2, 3);
  expect(out[50 * 160 + 79]).toBeCloseTo(0.2, 3);
  expect(out[50 * 160 + 80]).toBeCloseTo(0.7, 3);
});

/** Noise that a frame may have, grey levels, the same in the three channels. */
function noisy(seed: number, high: number, colour: (x: number, y: number) => number): Picture8 {
  const random = seeded(seed);
  const data = new Uint8Array(64000);
  for (let i = 0; i < 16000; i++) {
    const v = colour(i % 160, Math.floor(i / 160)) + high * (random() - 0.5);
    data.set([v, v, v, 255], 4 * i);
  }
  return pictureOf(size, data, 'straight');
}

const noisyOf = (width: number, height: number): Picture8 =>
  pictureOf({ width, height }, new Uint8Array(width * height * 4).fill(99), 'straight');

test('what moves in one frame is no still part any more', () => {
  const plain = (x: number): number => 80 + (x % 7) * 10;
  const parts = new StillParts(noisy(1, 6, plain));
  parts.add(noisy(2, 6, plain));
  parts.add(noisy(3, 6, (x, y) => (x > 60 && x < 90 && y > 30 ? 220 : plain(x))));
  parts.add(noisy(4, 6, plain));
  const depth = new Float32Array(16000).fill(0.5);
  parts.keep(depth, new Float32Array(16000).fill(0.25));
  expect(depth[20 * 160 + 20]).toBe(0.25);
  expect(depth[60 * 160 + 75]).toBe(0.5);
});

describe('carrying', () => {
  const random = seeded(8);
  const texture = Array.from({ length: 400 * 200 }, () => 60 + 130 * random());
  const smooth = (x: number, y: number): number => {
    // Bilinear between values four px apart: something to hold on to.
    const [u, v] = [x / 4 + 40, y / 4 + 20];
    const [x0, y0] = [Math.floor(u), Math.floor(v)];
    const at = (a: number, b: number): number => texture[(y0 + b) * 400 + x0 + a];
    const [fx, fy] = [u - x0, v - y0];
    return (at(0, 0) * (1 - fx) + at(1, 0) * fx) * (1 - fy) + (at(0, 1) * (1 - fx) + at(1, 1) * fx) * fy;
  };
  /**
   * A card before a wall, seen by a camera that goes to the side; the card has moved by `px`, the wall by a quarter
   * of that.
   */
  const inCard = (x: number, y: number, px: number): boolean => x >= 50 + px && x < 90 + px && y >= 30 && y < 70;
  const frameAt = (px: number): Picture8 =>
    noisy(px + 20, 2, (x, y) => (inCard(x, y, px) ? 255 - smooth(x - px + 200, y) : smooth(x - px / 4, y)));
  const depthAt = (px: number): DepthMap => ({
    ...size,
    data: Uint16Array.from({ length: 16000 }, (_, i) => (inCard(i % 160, Math.floor(i / 160), px) ? 52428 : 13107)),
  });
  const carried = async (frames: readonly Picture8[], keys: readonly DepthKey[]): Promise<CarriedDepth[]> => {
    const out: CarriedDepth[] = [];
    for await (const frame of carryDepth({ count: frames.length, frame: (n) => Promise.resolve(frames[n]) }, keys))
      out.push(frame);
    return out;
  };
  const error = ({ depth }: CarriedDepth, truth: DepthMap): number =>
    depth.reduce((sum, v, i) => sum + Math.abs(v - truth.data[i] / 65535), 0) / depth.length;
  const moves = [0, 2, 4, 6, 8, 10];

  test('between two keys and from one alone follows what moves', async () => {
    const frames = moves.map(frameAt);
    const keys = [0, 5].map((frame) => ({ frame, depth: depthAt(moves[frame]) }));
    const both = await carried(frames, keys);
    expect(both.map((f) => f.frame)).toEqual([0, 1, 2, 3, 4, 5]);
    expect([both[0].trust, both[5].trust]).toEqual([1, 1]);
    // The card's edges are 160 px of 16000; blending the keys would be off by .6 on two bands of up to 6 x 40 px:
    // more than .01.
    for (const frame of both) expect(error(frame, depthAt(moves[frame.frame]))).toBeLessThan(0.005);
    for (const alone of [keys[0], keys[1]]) {
      const fromOne = await carried(frames, [alone]);
      expect(fromOne.map((f) => f.frame)).toEqual([0, 1, 2, 3, 4, 5]);
      for (const frame of fromOne) expect(error(frame, depthAt(moves[frame.frame]))).toBeLessThan(0.012);
    }
  });

  test('a scene that stands still keeps its key’s depth bit by bit', async () => {
    const frames = [1, 2, 3, 4].map((seed) => noisy(seed, 4, (x, y) => smooth(x, y)));
    const depth: DepthMap = { ...size, data: Uint16Array.from({ length: 16000 }, (_, i) => (i * 37) & 65535) };
    for (const frame of await carried(frames, [{ frame: 0, depth }]))
      frame.depth.forEach((v, i) => {
        if (Math.round(v * 65535) !== depth.data[i]) throw new Error(`Frame ${frame.frame} differs at ${i}.`);
      });
  });

  test('without keys, and with one of another size, is refused by name', async () => {
    const frames = moves.map(frameAt);
    await expect(carried(frames, [])).rejects.toMatchObject({ code: 'no-keys' });
    const small = { width: 80, height: 50, data: new Uint16Array(4000) };
    await expect(carried(frames, [{ frame: 2, depth: small }])).rejects.toMatchObject({ code: 'size-differs' });
    const key = (frame: number): DepthKey => ({ frame, depth: depthAt(0) });
    await expect(carried(frames, [key(9)])).rejects.toMatchObject({ code: 'no-such-frame' });
    await expect(carried(frames, [key(2), key(2)])).rejects.toMatchObject({ code: 'keys-disorder' });
    await expect(carried(frames, [key(3), key(1)])).rejects.toMatchObject({ code: 'keys-disorder' });
    const odd = [...frames.slice(0, 2), noisyOf(80, 50), ...frames.slice(3)];
    await expect(carried(odd, [key(0)])).rejects.toMatchObject({ code: 'size-differs' });
  });

  test('more frames without depth than memory holds are refused before the first is read', async () => {
    const read: number[] = [];
    const frame = (n: number): Promise<Picture8> => {
      read.push(n);
      return Promise.resolve(frameAt(0));
    };
    const carrying = carryDepth({ count: 1_000_000, frame }, [{ frame: 0, depth: depthAt(0) }]);
    await expect(carrying.next()).rejects.toMatchObject({ code: 'far-apart' });
    // Only the first, for its size.
    expect(read).toEqual([0]);
  });
});
