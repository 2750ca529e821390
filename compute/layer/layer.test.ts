import type { LayerPlace, LayerPlate } from './place';
import { PLAIN_EDGE, type Choice } from '@/core/matte/choice';
import type { DepthMap, Mask, Premultiplied8 } from '@/core/raster/picture';
import { Layer } from './layer';
import { PlacedPiece } from './pieces';
import { sceneOf, type ScenePart } from '@/core/scene/sceneOf';
import { lensOf, type Drawn, type LookRequest } from '../lenses';
import type { Behind } from '../lenses/behind';
import { GROUNDS, type Check } from '../draw/ground';
import { isFlat, type HandEdit, type Way } from '../look';
import type { RevealCount } from './lookBehind';

const width = 80;
const height = 40;
const id = '0f8fad5b-d9cb-469f-a165-70867728950e';
const place = (scale = 1): LayerPlace => ({
  left: 0,
  top: 0,
  right: width,
  bottom: height,
  shown: { left: 0, top: 0, right: width, bottom: height },
  scale,
});
const box = (x: number, y: number): boolean => x >= 20 && x < 40 && y >= 10 && y < 30;
const picture = (): Premultiplied8 => ({
  bits: 8 as const,
  alpha: 'premultiplied' as const,
  width,
  height,
  data: Uint8Array.from({ length: width * height * 4 }, (_, i) => {
    const p = i >> 2;
    const colour = box(p % width, Math.floor(p / width)) ? [220, 120, 30, 255] : [90, 90, 90, 255];
    return colour[i & 3];
  }),
});
const depth = (): Uint16Array =>
  Uint16Array.from({ length: width * height }, (_, i) => (box(i % width, Math.floor(i / width)) ? 52428 : 13107));
const whole = (value: number): DepthMap => ({ width, height, data: new Uint16Array(width * height).fill(value) });
const matte: Mask = {
  width,
  height,
  data: Uint8Array.from({ length: width * height }, (_, i) => (box(i % width, Math.floor(i / width)) ? 255 : 0)),
};
const plate: LayerPlate = { id, matte, depth: whole(65535) };
const part = (plates: ScenePart['plates'] = []): ScenePart => ({
  budget: { nearPx: -10, farPx: 5 },
  sourceEye: 'centre',
  swapEyes: false,
  tearPx: 2,
  holePx: null,
  depth: { near: 1, far: 0 },
  source: { width },
  plates,
});
const cutPart = part([{ id, matte: id, hidden: false, piece: null, depth: { near: 0.75, far: 0.25 } }]);
/** What the tests ask for, in one place. */
interface Asking {
  readonly document?: ScenePart;
  readonly active?: string | null;
  readonly behind?: Behind;
  readonly hands?: readonly HandEdit[];
  readonly hiddenDepth?: boolean;
  readonly choice?: Choice;
  readonly spare?: boolean;
  readonly check?: Check;
}
function request(way: Way, asking: Asking = {}): LookRequest {
  const { document = part(), active = null, behind, hands = [], hiddenDepth, choice, spare = true, check } = asking;
  const scene = sceneOf(document);
  if (!isFlat(way)) return { scene, ask: { lens: 'eyes', way, flipped: false, markReveal: false } };
  const over = { way, strength: 1, contourPx: 1000 };
  if (behind) return { scene, ask: { lens: 'behind', active, behind, hands } };
  if (hiddenDepth) return { scene, ask: { lens: 'hidden-depth', ...over } };
  if (check) return { scene, ask: { lens: 'check', ...over, check, choice, spare, active } };
  if (choice) return { scene, ask: { lens: 'choice', ...over, choice, spare, active, unsure: false } };
  return { scene, ask: { lens: 'source', ...over, active } };
}
/** Draws a layer as the preview does: what another lens drew last is forgotten. */
async function look(l: Layer, asked: LookRequest, all = false): Promise<Drawn> {
  if (l.lastLens !== asked.ask.lens) l.lastDrawn = undefined;
  l.lastLens = asked.ask.lens;
  const lens = lensOf(asked.ask);
  return all && lens.drawAll ? lens.drawAll(l, asked) : lens.draw(l, asked);
}
const layer = (plates: readonly LayerPlate[] = []): Layer =>
  new Layer({ place: place(), picture: picture(), depth: depth(), plates });
const at = (data: Uint8ClampedArray, x: number, y: number): number[] => [
  ...data.slice((y * width + x) * 4, (y * width + x) * 4 + 3),
];
const outline: Choice = {
  ingredients: [
    {
      kind: 'outline',
      way: 'add',
      points: [
        { x: 20, y: 10 },
        { x: 40, y: 10 },
        { x: 40, y: 30 },
        { x: 20, y: 30 },
      ],
    },
  ],
  edge: PLAIN_EDGE,
};

describe('a layer of the preview', () => {
  test('shows the picture, its depth, and both eyes', async () => {
    const l = layer();
    expect(at((await look(l, request('picture'))).frame!.data, 30, 20)).toEqual([220, 120, 30]);
    expect(at((await look(l, request('depth'))).frame!.data, 30, 20)).toEqual([204, 204, 204]);
    const frame = (await look(l, request('both'))).frame!;
    expect(frame).toMatchObject({ width: 2 * width, height, left: 0, right: 2 * width });
    // Nearer things lie farther left in the right eye's view than in the left eye's.
    const orange = (from: number): number =>
      Array.from({ length: width }, (_, x) => x).find((x) => frame.data[(20 * 2 * width + from + x) * 4] > 180)!;
    expect(orange(width)).toBeLessThan(orange(0));
  });

  test('depth is that of everything over everything: a plate’s map through its own span', async () => {
    const l = layer([plate]);
    const grey = at((await look(l, request('depth', { document: cutPart }))).frame!.data, 30, 20)[0];
    expect(Math.abs(grey - 0.75 * 255)).toBeLessThanOrEqual(1);
    expect(at((await look(l, request('depth', { document: cutPart }))).frame!.data, 60, 20)).toEqual([51, 51, 51]);
    const hidden = { ...cutPart, plates: [{ ...cutPart.plates[0], hidden: true }] };
    expect(at((await look(l, request('depth', { document: hidden }))).frame!.data, 30, 20)).toEqual([204, 204, 204]);
  });

  test('a stroke lands on the depth it is meant for, and only there', () => {
    const l = layer([plate]);
    const brush = { mode: 'set' as const, depth: 0, size: 6, hardness: 1, strength: 1, pressure: 'none' as const };
    l.beginStroke(brush, id);
    expect(l.addPoints([{ x: 30, y: 20, pressure: 1 }])).toBeDefined();
    l.endStroke();
    expect(l.plates[0].depth.data[20 * width + 30]).toBe(0);
    expect(l.depth.data[20 * width + 30]).toBe(52428);
    l.beginStroke(brush, 'no such plate');
    expect(l.addPoints([{ x: 30, y: 20, pressure: 1 }])).toBeUndefined();
  });

  test('what is not chosen, or not of the plate in work, is set back', async () => {
    const l = layer([plate]);
    for (const asked of [request('picture', { choice: outline, spare: false }), request('picture', { active: id })]) {
      const { data } = (await look(l, asked)).frame!;
      expect(at(data, 30, 20)).toEqual([220, 120, 30]);
      expect(at(data, 60, 20)).not.toEqual([90, 90, 90]);
    }
  });

  test('a cut is shown alone on each ground', async () => {
    const l = layer();
    const grounds: Partial<Record<Check['ground'], Uint8ClampedArray>> = {};
    for (const ground of GROUNDS) {
      const check: Check = { ground, colour: '#3070b0', shiftPx: 6, rim: false };
      grounds[ground] = (await look(l, request('picture', { choice: outline, check }))).frame!.data;
    }
    const on = (ground: Check['ground']): Uint8ClampedArray => grounds[ground]!;
    expect([at(on('black'), 60, 20), at(on('white'), 60, 20), at(on('grey'), 60, 20)]).toEqual([
      [0, 0, 0],
      [255, 255, 255],
      [116, 116, 116],
    ]);
    expect(at(on('black'), 30, 20)).toEqual([220, 120, 30]);
    expect([at(on('matte'), 30, 20), at(on('matte'), 60, 20)]).toEqual([
      [255, 255, 255],
      [0, 0, 0],
    ]);
    expect(new Set([at(on('checks'), 0, 0)[0], at(on('checks'), 8, 0)[0]]).size).toBe(2);
    expect(at(on('colour'), 60, 20)).toEqual([0x30, 0x70, 0xb0]);
    // Behind the box the ground is grey; the hole that it leaves is filled with it, shifted or not.
    expect([at(on('behind'), 30, 20), at(on('behind'), 60, 20), at(on('behind'), 18, 20)]).toEqual([
      [220, 120, 30],
      [90, 90, 90],
      [90, 90, 90],
    ]);
    // A choice that is 3 px too wide on all sides shows the ground at its edge.
    const wide: Choice = { ...outline, edge: { ...PLAIN_EDGE, offsetPx: 3 } };
    const rim: Check = { ground: 'black', colour: '#000000', shiftPx: 0, rim: true };
    const marked = (await look(l, request('picture', { choice: wide, check: rim }))).frame!.data;
    expect(at(marked, 18, 20)).toEqual([214, 62, 34]);
    expect(at(marked, 30, 20)).toEqual([220, 120, 30]);
  });

  test('a choice leaves to other plates what they hold, unless they shall overlap', () => {
    const l = layer([plate]);
    const all: Choice = {
      ingredients: [
        {
          kind: 'outline',
          way: 'add',
          points: [
            { x: 10, y: 5 },
            { x: 60, y: 5 },
            { x: 60, y: 35 },
            { x: 10, y: 35 },
          ],
        },
      ],
      edge: PLAIN_EDGE,
    };
    const area = (m: Mask | undefined): number => m!.data.reduce((a, v) => a + v, 0) / 255;
    expect(area(l.choose(all, true, null))).toBe(50 * 30 - 400);
    expect(area(l.choose(all, false, null))).toBe(50 * 30);
    expect(area(l.choose(all, true, id))).toBe(50 * 30);
  });

  test('a brought-in piece lies where the document says, in the picture, the depth and the eyes', async () => {
    const piece = {
      picture: {
        bits: 8 as const,
        alpha: 'straight' as const,
        width: 10,
        height: 10,
        data: Uint8Array.from({ length: 400 }, (_, i) => [10, 240, 60, 255][i & 3]),
      },
      fullWidth: 10,
    };
    const brought: LayerPlate = {
      id,
      matte: { width, height, data: new Uint8Array(width * height) },
      depth: whole(65535),
      piece: new PlacedPiece(piece),
    };
    const seen = (x: number): ScenePart =>
      part([
        {
          id,
          matte: id,
          hidden: false,
          depth: { near: 0.9, far: 0.1 },
          piece: {
            mediaId: id,
            fileName: 'p.png',
            width: 10,
            height: 10,
            bits: 8,
            match: null,
            placement: { x, y: 20, scale: 1, turn: 0, flipAcross: false, flipDown: false },
          },
        },
      ]);
    const l = layer([brought]);
    const flat = async (x: number): Promise<Uint8ClampedArray> =>
      (await look(l, request('picture', { document: seen(x) }))).frame!.data;
    expect(at(await flat(60), 60, 20)).toEqual([10, 240, 60]);
    expect(at(await flat(10), 60, 20)).toEqual([90, 90, 90]);
    expect(at(await flat(10), 10, 20)).toEqual([10, 240, 60]);
    expect(at((await look(l, request('depth', { document: seen(10) }))).frame!.data, 10, 20)[0]).toBeGreaterThan(225);
    const frame = (await look(l, request('left', { document: { ...seen(60), sourceEye: 'left' } }))).frame!;
    expect(at(frame.data, 60, 20)).toEqual([10, 240, 60]);
    // It was not cut from the picture: nothing is filled behind it.
    expect(at(frame.data, 30, 20)).toEqual([220, 120, 30]);
  });

  test('the depth behind the plates is shown and painted alone', async () => {
    const l = new Layer({
      place: place(),
      picture: picture(),
      depth: depth(),
      plates: [plate],
      behind: new Uint16Array(width * height).fill(6554),
    });
    const behind = request('depth', { document: cutPart, hiddenDepth: true });
    expect(at((await look(l, behind)).frame!.data, 30, 20)).toEqual([25, 25, 25]);
    // Where the box was lifted the picture shows what lies behind it.
    expect(
      at((await look(l, request('picture', { document: cutPart, hiddenDepth: true }))).frame!.data, 30, 20),
    ).toEqual([90, 90, 90]);
    l.beginStroke({ mode: 'set', depth: 1, size: 6, hardness: 1, strength: 1, pressure: 'none' }, 'behind');
    l.addPoints([{ x: 30, y: 20, pressure: 1 }]);
    l.endStroke();
    expect(at((await look(l, behind)).frame!.data, 30, 20)).toEqual([255, 255, 255]);
    expect(l.depth.data[20 * width + 30]).toBe(52428);
  });

  test('what the views uncover is counted with what is filled of it, and striped or lined', async () => {
    const filled = {
      bits: 8 as const,
      alpha: 'straight' as const,
      width,
      height,
      data: new Uint8Array(width * height * 4).fill(255),
    };
    const behind = { asidePx: 0, reveal: true, stretch: false, marginPx: 0, views: 2, move: null };
    const near = part([{ id, matte: id, hidden: false, piece: null, depth: { near: 1, far: 0.9 } }]);
    const bare = layer([plate]);
    const done = new Layer({
      place: place(),
      picture: picture(),
      depth: depth(),
      plates: [plate],
      painted: { fill: filled },
    });
    const countBack = async (l: Layer): Promise<RevealCount> => {
      const scene = sceneOf(near);
      await l.prepare(scene);
      const { rasters, stamp } = l.layout;
      const counts = await l.behindView.counts({ scene, rasters, scale: 1, stamp }, behind, l.layout.fills());
      return counts!.find((c) => c.id === null)!;
    };
    const back = await countBack(bare);
    const over = await countBack(done);
    expect(back.revealed).toBeGreaterThan(20);
    expect([back.open, over.open]).toEqual([back.revealed, 0]);
    const drawn = await look(bare, request('picture', { document: near, behind: { ...behind, asidePx: 30 } }));
    expect(at(drawn.frame!.data, 55, 20)).toEqual([220, 120, 30]);
    const { rasters, stamp } = bare.layout;
    const laid = { scene: sceneOf(near), rasters, scale: 1, stamp };
    // The back plate's jump of 39321 of 65535 at 15 px of budget is 9 px: torn at 2 px, so that nothing is stretched.
    expect(bare.behindView.stretch(laid, null).worst.factor).toBe(1);
  });

  test('what a hand draws behind a plate is drawn in its own rectangle, as all of it would be', async () => {
    const behind = { asidePx: 30, reveal: true, stretch: false, marginPx: 0, views: 2, move: null };
    const near = part([{ id, matte: id, hidden: false, piece: null, depth: { near: 1, far: 0.9 } }]);
    const stroke = (x: number): HandEdit => ({
      n: 1,
      plate: null,
      edit: {
        kind: 'clone',
        size: 8,
        hardness: 1,
        strength: 1,
        points: [
          { x: 30, y: 20 },
          { x, y: 20 },
        ],
        sources: [{ dx: 0, dy: 18 }],
        scale: 1,
        turn: 0,
        flip: false,
        jitter: 0,
        seed: 1,
        seamless: false,
        beyond: true,
      },
    });
    const asked = (hands: readonly HandEdit[], more: Asking = {}): LookRequest =>
      request('picture', { document: near, behind, hands, ...more });
    const l = layer([plate]);
    const shown = (await look(l, asked([]))).frame!;
    const step = await look(l, asked([stroke(34)]));
    expect(step.part).toBe(true);
    expect([step.frame!.left, step.frame!.top, step.frame!.right, step.frame!.bottom]).toEqual([25, 15, 39, 25]);
    // Laid into what was shown, it is what a whole look shows.
    for (let y = 0; y < step.frame!.height; y++)
      shown.data.set(
        step.frame!.data.subarray(y * step.frame!.width * 4, (y + 1) * step.frame!.width * 4),
        ((step.frame!.top + y) * width + step.frame!.left) * 4,
      );
    const whole = await look(l, asked([stroke(34)]), true);
    expect(whole.part).toBe(false);
    expect(Buffer.from(whole.frame!.data).equals(Buffer.from(shown.data))).toBe(true);
    // Nothing new is nothing to draw; another request, or another way in between, is drawn whole.
    expect(await look(l, asked([stroke(34)]))).toMatchObject({ part: true, frame: undefined });
    expect((await look(l, asked([stroke(36)], { behind: { ...behind, asidePx: 20 } }))).part).toBe(false);
    await look(l, request('depth', { document: near }));
    expect((await look(l, asked([stroke(38)], { behind: { ...behind, asidePx: 20 } }))).part).toBe(false);
    // The source stays as it came, whatever is drawn over it.
    expect(at(Uint8ClampedArray.from(l.picture.data), 30, 20)).toEqual([220, 120, 30]);
  });

  test('with another fill a layer goes on from how the last one laid the plates out, until a depth changes', async () => {
    const behind = { asidePx: 30, reveal: false, stretch: false, marginPx: 0, views: 2, move: null };
    const green = {
      bits: 8 as const,
      alpha: 'straight' as const,
      width,
      height,
      data: Uint8Array.from({ length: width * height * 4 }, (_, i) => [10, 240, 60, 255][i & 3]),
    };
    const seen = async (l: Layer): Promise<number[]> =>
      at((await look(l, request('picture', { document: cutPart, behind }), true)).frame!.data, 30, 20);
    const first = layer([plate]);
    expect(await seen(first)).toEqual([90, 90, 90]);
    const second = new Layer({
      place: place(),
      picture: picture(),
      depth: depth(),
      plates: [plate],
      painted: { fill: green },
    });
    second.inherit(first);
    expect(await seen(second)).toEqual([10, 240, 60]);
    expect(await seen(first)).toEqual([90, 90, 90]);
    // Its own depth counts from the first stroke on.
    const depthAt = async (): Promise<number> =>
      at((await look(second, request('depth', { document: cutPart }))).frame!.data, 70, 35)[0];
    const before = await depthAt();
    second.beginStroke({ mode: 'set', depth: 1, size: 8, hardness: 1, strength: 1, pressure: 'none' }, null);
    second.addPoints([{ x: 70, y: 35, pressure: 1 }]);
    second.endStroke();
    expect(await depthAt()).toBeGreaterThan(before + 100);
    const right = (await look(second, request('right', { document: cutPart }))).frame!.data;
    expect(right.some((v, i) => (i & 3) !== 3 && v > 0)).toBe(true);
  });

  test('a band is seen quickly first, and as it was solved afterwards', () => {
    const l = layer();
    const soft: Choice = { ...outline, edge: { ...PLAIN_EDGE, solvePx: 6 } };
    const quick = l.choose(soft, true, null)!;
    const { pending } = l.choosing;
    expect(pending).toBeDefined();
    expect(quick.data[20 * width + 30]).toBe(255);
    l.choosing.solved('another choice', { ...matte, data: new Uint8Array(width * height) });
    expect(l.choose(soft, true, null)).toBe(quick);
    l.choosing.solved(pending!.key, matte);
    expect(l.choose(soft, true, null)).toEqual(matte);
    expect(l.choosing.pending).toBeUndefined();
  });

  test('a window in detail takes the choice from the whole picture, whatever of it lies inside', () => {
    const detail = new Layer({
      place: { ...place(), left: 30, right: 60 },
      picture: {
        bits: 8 as const,
        alpha: 'premultiplied' as const,
        width: 30,
        height,
        data: picture().data.slice(0, 30 * height * 4),
      },
      depth: new Uint16Array(30 * height),
      plates: [],
    });
    const strokes: Choice = {
      ingredients: [
        {
          kind: 'region',
          way: 'add',
          strokes: [
            { side: 'in', size: 4, points: [{ x: 24, y: 20 }] },
            { side: 'out', size: 4, points: [{ x: 70, y: 20 }] },
          ],
        },
      ],
      edge: PLAIN_EDGE,
    };
    const from = layer();
    const chosen = from.choose(strokes, true, null)!;
    detail.choosing.borrow({ choice: strokes, others: [], matte: chosen, unsure: undefined }, from.place, 'solved');
    const borrowed = detail.choosing.matte!;
    for (let y = 0; y < height; y++)
      for (let x = 0; x < 30; x++) expect(borrowed.data[y * 30 + x]).toBe(chosen.data[y * width + 30 + x]);
  });
});
