import { pictureOf, type DepthMap, type Mask, type Straight8 } from '../../raster/picture';
import { carryBehind } from './carryBehind';
import type { BehindFrame, BehindFrames, CarriedBehind } from './frames';

const [WIDE, HIGH] = [160, 100];
const N = WIDE * HIGH;
const COUNT = 9;
/** Px a frame that a thing of the nearest depth goes, and the depths of the ground's far and near ends. */
const GOES = 8;
const [FAR, NEAR] = [0.35, 0.5];
/** A plate stands in the picture's middle, so wide. */
const PLATE = 20;

const wave = (x: number, y: number): number =>
  128 + 45 * Math.sin(x * 0.31 + 2 * Math.sin(y * 0.11)) * Math.cos(y * 0.27) + 25 * Math.sin(x * 0.13 + y * 0.17);
const depthAt = (y: number): number => FAR + ((NEAR - FAR) * y) / HIGH;

/** What lies behind at a place of a frame: a ground that leans, so that nearer rows go faster past a moving camera. */
const ground = (x: number, y: number, n: number, still: boolean): number =>
  wave(x - (still ? 0 : GOES * depthAt(y) * n), y);

interface Made {
  readonly still?: boolean;
  /** Grey levels that it is darker by, a frame. */
  readonly dims?: number;
  readonly plate?: (n: number) => readonly [from: number, to: number] | undefined;
  readonly painted?: (n: number) => Straight8 | undefined;
}

function frameOf(n: number, { still = false, dims = 0, plate, painted }: Made): BehindFrame {
  const covers = plate ? plate(n) : ([70, 70 + PLATE] as const);
  const picture = new Uint8Array(4 * N);
  const depth = new Uint16Array(N);
  const hole = new Uint8Array(N);
  for (let y = 0, i = 0; y < HIGH; y++)
    for (let x = 0; x < WIDE; x++, i++) {
      const hidden = covers !== undefined && x >= covers[0] && x < covers[1] && y >= 20 && y < 80;
      const value = hidden ? 10 : Math.round(ground(x, y, n, still) - dims * n);
      picture.set([value, value, value, 255], 4 * i);
      depth[i] = Math.round(65535 * (hidden ? 0.95 : depthAt(y)));
      hole[i] = hidden ? 255 : 0;
    }
  const size = { width: WIDE, height: HIGH };
  return {
    picture: pictureOf(size, picture, 'straight'),
    depth: { ...size, data: depth } satisfies DepthMap,
    hole: { ...size, data: hole } satisfies Mask,
    painted: painted?.(n),
  };
}

async function carried(made: Made): Promise<CarriedBehind[]> {
  const painted = Array.from({ length: COUNT }, (_, n) => n).filter((n) => made.painted?.(n));
  const all = Array.from({ length: COUNT }, (_, n) => frameOf(n, made));
  const frames: BehindFrames = { count: COUNT, painted, frame: (n) => Promise.resolve(all[n]) };
  const out: CarriedBehind[] = [];
  for await (const found of carryBehind(frames)) out.push(found);
  return out;
}

/** Grey levels off in the mean, over what is hidden. */
function off({ frame, colours }: CarriedBehind, made: Made): number {
  let [sum, n] = [0, 0];
  for (let i = 0; i < N; i++) {
    if (colours.data[4 * i + 3] === 0) continue;
    const truth = ground(i % WIDE, Math.floor(i / WIDE), frame, made.still ?? false) - (made.dims ?? 0) * frame;
    sum += Math.abs(colours.data[4 * i] - truth);
    n++;
  }
  return sum / n;
}

test('what a plate hides is taken from frames in which the camera saw it, with its depth and in the light of now', async () => {
  const made: Made = { dims: 2 };
  const all = await carried(made);
  expect(all.map(({ frame }) => frame)).toEqual(Array.from({ length: COUNT }, (_, n) => n));
  for (const found of all) {
    // In eight frames the ground goes 22 to 32 px: past a plate of 20 px all of it is seen from somewhere.
    expect(found.seen).toBeGreaterThan(0.99);
    // Rounded to grey levels twice, read between pixels once. What is borrowed lies some four frames away at the ends: 8 grey
    // levels, were the light not matched.
    expect(off(found, made)).toBeLessThan(3);
    const middle = 50 * WIDE + 80;
    expect(Math.abs(found.depth.data[middle] / 65535 - depthAt(50))).toBeLessThan(0.02);
    expect(found.colours.data[4 * (10 * WIDE + 80) + 3]).toBe(0);
  }
});

test('what no frame shows is invented once, and goes with the ground', async () => {
  // The plate goes along with the ground's middle, so that its middle hides the same place in all frames.
  const goes = GOES * depthAt(50);
  const all = await carried({ plate: (n) => [Math.round(30 + goes * n), Math.round(30 + goes * n) + 60] });
  const [from, to] = [all[3], all[6]];
  expect(from.seen).toBeLessThan(0.9);
  const place = (n: number): number => 4 * (50 * WIDE + Math.round(60 + goes * n));
  expect(Math.abs(from.colours.data[place(3)] - to.colours.data[place(6)])).toBeLessThan(3);
});

describe('before a camera that stands still', () => {
  // Hides less and less: frame by frame the plate goes to the right.
  const made: Made = { still: true, plate: (n) => [60 + 4 * n, 60 + 4 * n + PLATE] };

  test('there is one clean plate: what was hidden in one frame is what the others show, bit by bit', async () => {
    const all = await carried(made);
    const known = new Map<number, number>();
    for (const { frame, colours, seen } of all) {
      expect(seen).toBe(1);
      for (let i = 0; i < N; i++) {
        if (colours.data[4 * i + 3] === 0) continue;
        expect(colours.data[4 * i]).toBe(Math.round(ground(i % WIDE, Math.floor(i / WIDE), frame, true)));
        if (known.has(i)) expect(colours.data[4 * i]).toBe(known.get(i));
        known.set(i, colours.data[4 * i]);
      }
    }
    expect(known.size).toBe((PLATE + 4 * (COUNT - 1)) * 60);
  });

  test('what was painted at one frame shows in all that hide it', async () => {
    const paint = pictureOf({ width: WIDE, height: HIGH }, new Uint8Array(4 * N), 'straight');
    paint.data.set([200, 30, 30, 255], 4 * (50 * WIDE + 75));
    const all = await carried({ ...made, painted: (n) => (n === 2 ? paint : undefined) });
    for (const { frame, colours } of all)
      if (frame <= 3)
        expect([...colours.data.subarray(4 * (50 * WIDE + 75), 4 * (50 * WIDE + 75) + 3)]).toEqual([200, 30, 30]);
  });
});

test('what was painted at a frame goes with the ground to the others', async () => {
  const paint = pictureOf({ width: WIDE, height: HIGH }, new Uint8Array(4 * N), 'straight');
  for (let y = 45; y < 56; y++) for (let x = 75; x < 86; x++) paint.data.set([200, 30, 30, 255], 4 * (y * WIDE + x));
  const all = await carried({ painted: (n) => (n === 4 ? paint : undefined) });
  const goes = GOES * depthAt(50);
  for (const n of [3, 5]) {
    const at = 4 * (50 * WIDE + Math.round(80 + goes * (n - 4)));
    expect(Math.abs(all[n].colours.data[at] - 200)).toBeLessThan(3);
    expect(Math.abs(all[n].colours.data[at + 1] - 30)).toBeLessThan(3);
  }
});
