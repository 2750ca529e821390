import { PLAIN_EDGE, type Choice } from '../matte/choice';
import { WHOLE } from '../raster/geometry';
import { pictureOf, type Mask, type Picture8 } from '../raster/picture';
import { carryMatte } from './carryMatte';
import { carryPlate } from './carryPlate';

const WIDTH = 220;
const HEIGHT = 150;
const COUNT = 6;

/** A body on two legs that open and close as it goes to the right; a beam of its colours hangs beside its head. */
function walker(n: number): { readonly picture: Picture8; readonly matte: Mask } {
  const x = 60 + 4 * n;
  const swing = 0.45 * Math.sin(n);
  const isBody = (u: number, v: number): boolean => Math.hypot((u - x) / 14, (v - 55) / 26) < 1;
  const isLeg = (u: number, v: number, side: number): boolean => {
    const [across, down] = [u - x, v - 72];
    const along = side * across * Math.sin(swing) + down * Math.cos(swing);
    const off = across * Math.cos(swing) - side * down * Math.sin(swing);
    return along > 0 && along < 52 && Math.abs(off) < 6;
  };
  const data = new Uint8Array(WIDTH * HEIGHT * 4);
  const matte = new Uint8Array(WIDTH * HEIGHT);
  for (let v = 0, i = 0; v < HEIGHT; v++)
    for (let u = 0; u < WIDTH; u++, i++) {
      const isWalker = isBody(u, v) || isLeg(u, v, 1) || isLeg(u, v, -1);
      const cloth = 20 * Math.sin((u - x) * 0.9) * Math.cos(v * 0.8);
      const ground = 25 * Math.sin(u * 0.31 + v * 0.2) * Math.cos(v * 0.27);
      const beam = v >= 40 && v < 46 && u > 120;
      data.set(
        isWalker || beam ? [150 + cloth, 60 + cloth / 2, 70, 255] : [120 + ground, 130 + ground, 120, 255],
        4 * i,
      );
      matte[i] = isWalker ? 255 : 0;
    }
  const size = { width: WIDTH, height: HEIGHT };
  return { picture: pictureOf(size, data, 'straight'), matte: { ...size, data: matte } };
}

const film = Array.from({ length: COUNT }, (_, n) => walker(n));
const frames = { count: COUNT, frame: (n: number) => Promise.resolve(film[n].picture) };
const depth = { width: WIDTH, height: HEIGHT, data: new Uint16Array(WIDTH * HEIGHT).fill(40_000) };

const stroke = (side: 'in' | 'out', x: number) => ({ side, size: 4, points: [{ x, y: 50, pressure: 1 }] });
const painted = {
  ingredients: [{ kind: 'region', way: 'add', strokes: [stroke('in', 60), stroke('out', 10)] }],
  edge: PLAIN_EDGE,
} as unknown as Choice;

function overlap(a: Mask, b: Mask): number {
  let [both, either] = [0, 0];
  for (let i = 0; i < a.data.length; i++) {
    const [inA, inB] = [a.data[i] >= 128, b.data[i] >= 128];
    if (inA && inB) both++;
    if (inA || inB) either++;
  }
  return both / either;
}

async function carried(choice: Choice | undefined): Promise<Map<number, Mask>> {
  const found = new Map<number, Mask>();
  for await (const { frame, matte } of carryPlate(frames, [{ frame: 0, matte: film[0].matte, depth, choice }], WHOLE))
    found.set(frame, matte);
  return found;
}

test('a plate that was painted as a region follows what changes its shape, where its layer cannot', async () => {
  const layer = new Map<number, Mask>();
  for await (const { frame, matte } of carryMatte(frames, [{ frame: 0, matte: film[0].matte }]))
    layer.set(frame, matte);
  const anew = await carried(painted);
  for (const n of [2, 5]) {
    // Its legs lie elsewhere than in the key.
    expect(overlap(layer.get(n)!, film[n].matte)).toBeLessThan(0.85);
    expect(overlap(anew.get(n)!, film[n].matte)).toBeGreaterThan(0.96);
  }
});

test('a plate that was chosen otherwise is its layer, bit by bit', async () => {
  const slice: Choice = { ingredients: [{ kind: 'slice', way: 'add', far: 0.5, near: 1 }], edge: PLAIN_EDGE };
  const plain = await carried(slice);
  for await (const { frame, matte } of carryMatte(frames, [{ frame: 0, matte: film[0].matte }]))
    if (frame > 0) expect(Buffer.compare(Buffer.from(plain.get(frame)!.data), Buffer.from(matte.data))).toBe(0);
});

test('what looks alike but is not the plate’s stays out: the key shows it there, too', async () => {
  const anew = await carried(painted);
  for (const [n, { data }] of anew)
    for (let u = 130; u < WIDTH; u++) for (let v = 40; v < 46; v++) expect([n, data[v * WIDTH + u]]).toEqual([n, 0]);
});
