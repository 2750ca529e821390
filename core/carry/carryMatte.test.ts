import { pictureOf, type Mask, type Picture8 } from '../raster/picture';
import { carryMatte, type CarriedMatte, type MatteKey } from './carryMatte';
import type { Frames } from './carryKeys';

const size = { width: 160, height: 120 };
const R = 18;
/** Px a frame that the disc goes. */
const [DX, DY] = [2.3, 0.7];

/** A part of a pixel's area that a disc covers, by 4 x 4 samples. */
function covered(x: number, y: number, [cx, cy]: [number, number], r: number): number {
  const away = Math.hypot(x - cx, y - cy);
  if (Math.abs(away - r) > 1) return away < r ? 1 : 0;
  let n = 0;
  for (let s = 0; s < 16; s++) if (Math.hypot(x + ((s & 3) - 1.5) / 4 - cx, y + ((s >> 2) - 1.5) / 4 - cy) < r) n++;
  return n / 16;
}

interface Scene {
  /** A bar in front from this column on, 14 px wide. */
  readonly bar?: number;
  /** Px that the disc's radius grows by a frame. */
  readonly grows?: number;
  /** The disc is not there in these frames. */
  readonly gone?: (n: number) => boolean;
}

const middle = (n: number): [number, number] => [34 + DX * n, 50 + DY * n];
const radius = (n: number, { grows = 0 }: Scene): number => R + grows * n;
const behind = (x: number, { bar }: Scene): boolean => bar !== undefined && x >= bar && x < bar + 14;

/** A patterned orange disc that goes over a patterned grey ground, by exact coverage. */
function frame(n: number, scene: Scene): Picture8 {
  const data = new Uint8Array(size.width * size.height * 4);
  const [cx, cy] = middle(n);
  const r = radius(n, scene);
  for (let y = 0, i = 0; y < size.height; y++)
    for (let x = 0; x < size.width; x++, i += 4) {
      const ground = 120 + 40 * Math.sin(x * 0.7) * Math.cos(y * 0.5);
      const share = scene.gone?.(n) ? 0 : covered(x, y, middle(n), r);
      const [u, v] = [((x - cx) * R) / r, ((y - cy) * R) / r];
      const value = 170 + 40 * Math.sin(u * 0.45 + 1) * Math.cos(v * 0.35);
      const over = behind(x, scene);
      [value, value * 0.5, 30].forEach((c, k) => {
        data[i + k] = over ? [20, 60, 30][k] : Math.round(share * c + (1 - share) * ground);
      });
      data[i + 3] = 255;
    }
  return pictureOf(size, data, 'straight');
}

function truth(n: number, scene: Scene): Mask {
  const data = new Uint8Array(size.width * size.height);
  for (let y = 0, i = 0; y < size.height; y++)
    for (let x = 0; x < size.width; x++, i++)
      data[i] = behind(x, scene) || scene.gone?.(n) ? 0 : Math.round(255 * covered(x, y, middle(n), radius(n, scene)));
  return { ...size, data };
}

const framesOf = (count: number, scene: Scene): Frames => ({ count, frame: (n) => Promise.resolve(frame(n, scene)) });

async function carried(count: number, scene: Scene, keys: readonly number[]): Promise<CarriedMatte[]> {
  const made = keys.map((n): MatteKey => ({ frame: n, matte: truth(n, scene) }));
  const all: CarriedMatte[] = [];
  for await (const found of carryMatte(framesOf(count, scene), made)) all.push(found);
  expect(all.map(({ frame: n }) => n)).toEqual(Array.from({ length: count }, (_, n) => n));
  return all;
}

/** Coverage that is off, in px of outline: of all pixels, over the circle's length. */
function outlineOff(matte: Mask, exact: Mask, r: number): number {
  const off = matte.data.reduce((sum, v, i) => sum + Math.abs(v - exact.data[i]), 0) / 255;
  return off / (2 * Math.PI * r);
}

test('a disc that goes by parts of a pixel is followed, its soft edge with it', async () => {
  const all = await carried(9, {}, [0]);
  // A bilinear sample of a soft edge is off by an eighth of a px at the most, a pose by some tenth of one.
  for (const { frame: n, matte } of all) expect(outlineOff(matte, truth(n, {}), R)).toBeLessThan(0.3);
  expect(Math.min(...all.map(({ trust }) => trust))).toBeGreaterThan(0.95);
});

test('it grows with the disc', async () => {
  const scene = { grows: 0.3 };
  for (const { frame: n, matte } of await carried(9, scene, [0]))
    expect(outlineOff(matte, truth(n, scene), radius(n, scene))).toBeLessThan(0.4);
});

test('what goes in front of it is left out, and trust falls with it', async () => {
  const scene = { bar: 64 };
  const all = await carried(18, scene, [0]);
  for (const { matte } of all) {
    const inBar = matte.data.reduce((sum, v, i) => sum + (behind(i % size.width, scene) ? v : 0), 0) / 255;
    // Two px beside an outline are decided by what lies around: no more than that of the bar's two edges.
    expect(inBar).toBeLessThan(2 * 2 * 2 * R * 0.5);
  }
  expect(all[3].trust).toBeGreaterThan(0.9);
  // Behind it by some 14 of 36 px.
  expect(all[17].trust).toBeLessThan(0.8);
});

test('what one key had hidden the other one shows', async () => {
  // The bar hides a part of the disc in the last frame only.
  const scene = { bar: 62 };
  const [alone, both] = [await carried(10, scene, [9]), await carried(10, scene, [0, 9])];
  const off = ({ frame: n, matte }: CarriedMatte): number => outlineOff(matte, truth(n, scene), R);
  expect(off(alone[2])).toBeGreaterThan(1);
  expect(off(both[2])).toBeLessThan(0.35);
  expect(both[9].trust).toBe(1);
});

test('a layer that is not there any more is not trusted', async () => {
  const scene = { gone: (n: number) => n > 5 };
  const all = await carried(8, scene, [0]);
  expect(all[5].trust).toBeGreaterThan(0.9);
  for (const { trust, matte } of all.slice(6)) {
    expect(trust).toBe(0);
    expect(matte.data.some((v) => v > 0)).toBe(false);
  }
});

test('an empty key says that nothing is to be seen up to the next one', async () => {
  const scene = { gone: (n: number) => n < 3 };
  const all = await carried(7, scene, [2, 6]);
  expect(all[0].matte.data.some((v) => v > 0)).toBe(false);
  expect(outlineOff(all[4].matte, truth(4, scene), R)).toBeLessThan(0.3);
});

test('keys that fit no frame are refused', async () => {
  const go = async (keys: readonly MatteKey[]): Promise<void> => {
    for await (const found of carryMatte(framesOf(3, {}), keys)) expect(found).toBeDefined();
  };
  const matte = truth(0, {});
  await expect(go([])).rejects.toMatchObject({ code: 'no-keys' });
  await expect(go([{ frame: 3, matte }])).rejects.toMatchObject({ code: 'no-such-frame' });
  await expect(go([1, 0].map((n) => ({ frame: n, matte })))).rejects.toMatchObject({ code: 'keys-disorder' });
  const small = { width: 8, height: 8, data: new Uint8Array(64) };
  await expect(go([{ frame: 0, matte: small }])).rejects.toMatchObject({ code: 'size-differs' });
});
