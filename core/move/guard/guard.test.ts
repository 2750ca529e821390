import { STANDING, type Vector } from '../../camera/pose';
import type { Move } from '../../camera/move';
import { pictureOf, type DepthMap, type Mask, type Premultiplied8, type Straight } from '../../raster/picture';
import { wholeScene, type MovedPart } from '../../scene/sceneAt';
import type { ShotRasters } from '../../shot/rasters';
import { findings, overscanFor, type GuardedFrame, type Limits } from './findings';
import { openGuard } from './guard';
import { parallaxAt } from './parallaxAt';
import { sceneAt } from '../../scene/sceneAt';

const size = { width: 400, height: 240 };
const n = size.width * size.height;
const part = { left: 0, top: 0, right: size.width, bottom: size.height };
const document: MovedPart = {
  budget: { nearPx: -8, farPx: 6 },
  sourceEye: 'centre',
  swapEyes: false,
  tearPx: 2,
  source: size,
  depth: { near: 1, far: 0 },
  plates: [{ id: 'card', matte: 'card', hidden: false, depth: { near: 1, far: 0.98 } }],
  camera: { focalPx: 400, principalPoint: null, near: 2, depth: null, base: 'stays' },
};
const scene = wholeScene(document);
const map = (value: number): DepthMap => ({ ...size, data: new Uint16Array(n).fill(value) });
const inCard = (i: number): boolean => i % 400 >= 150 && i % 400 < 250 && i / 400 >= 60 && i / 400 < 180;
const mask: Mask = { ...size, data: Uint8Array.from({ length: n }, (_, i) => (inCard(i) ? 255 : 0)) };
const plain = (cover: (i: number) => number): Premultiplied8 =>
  pictureOf(
    size,
    Uint8Array.from({ length: n * 4 }, (_, i) => cover(i >> 2)),
    'premultiplied',
  );
// A far ground with a hole behind a near card.
const rasters: ShotRasters<Premultiplied8> = {
  picture: plain(() => 255),
  depth: map(0),
  hole: mask,
  plates: [
    {
      id: 'card',
      top: 0,
      columns: { left: 150, right: 250 },
      picture: plain((i) => (inCard(i) ? 255 : 0)),
      depth: map(65535),
    },
  ],
};
const filled: Straight = pictureOf(size, new Uint8Array(n * 4).fill(255), 'straight');
const moveTo = (position: Vector): Move => ({
  fps: 24,
  frames: 11,
  path: 'straight',
  pace: 'keys',
  keys: [
    { frame: 0, ease: 'linear', value: STANDING },
    { frame: 10, ease: 'linear', value: { ...STANDING, position } },
  ],
});
const EYES = [null, -0.5, 0.5];

describe('what the guard sees', () => {
  test('nothing at rest through the camera', () => {
    const { facts, speed } = openGuard(rasters, new Map(), 1, part).see(scene, moveTo([0, 0, 0]), 0, [null]);
    expect(facts).toEqual({ dry: { left: 0, right: 0, top: 0, bottom: 0 }, open: new Map(), torn: { px: 0 } });
    expect(speed).toBe(0);
  });
  test('what opens behind a card that moves on by 20 px: 20 columns of its hole; nothing where that is filled', () => {
    const guard = openGuard(rasters, new Map(), 1, part);
    // 400 px of focal length at 2 m: 0.1 m are 20 px.
    const { facts } = guard.see(scene, moveTo([0.1, 0, 0]), 10, [null]);
    expect(facts.open.get(0)!.px / (20 * 120)).toBeGreaterThan(0.9);
    expect(facts.open.get(0)!.px / (20 * 120)).toBeLessThan(1.1);
    // It lies at the card's right edge, which has gone 20 px to the left; measured in steps of the guard's own pixels.
    const { left, top, right, bottom } = facts.open.get(0)!.at!;
    expect([left, top, right, bottom].map((v, i) => Math.abs(v - [230, 60, 250, 180][i]) < 3)).toEqual(
      Array(4).fill(true),
    );
    const whole = openGuard(rasters, new Map([[null, filled]]), 1, part).see(scene, moveTo([0.1, 0, 0]), 10, [null]);
    expect(whole.facts.open.size).toBe(0);
  });
  test('a border that runs dry, on its side and as far as it does', () => {
    const near = { ...rasters, depth: map(65535) };
    const { facts } = openGuard(near, new Map(), 1, part).see(scene, moveTo([0.1, 0, 0]), 10, [null]);
    expect(facts.dry.right).toBeGreaterThan(18);
    expect(facts.dry.right).toBeLessThan(22);
    expect(facts.dry).toMatchObject({ left: 0, top: 0, bottom: 0 });
    const up = openGuard(near, new Map(), 1, part).see(scene, moveTo([0, 0.05, 0]), 10, [null]);
    expect(up.facts.dry.top).toBeGreaterThan(8);
    expect(up.facts.dry).toMatchObject({ left: 0, right: 0, bottom: 0 });
  });
  test('eyes see beyond the border by half their parallax, also at rest', () => {
    const { facts } = openGuard(rasters, new Map(), 1, part).see(scene, moveTo([0, 0, 0]), 0, EYES);
    expect(facts.dry.left).toBeGreaterThan(1.5);
    expect(facts.dry.left).toBeLessThan(4.5);
  });
  test('a step that does not tear is drawn out by what parts its two sides', () => {
    // Steps of a tenth of the ruler, which a seventh would tear: a ridge between columns 100 and 200.
    const ridge = map(0);
    for (let i = 0; i < n; i++) if (i % 400 >= 100 && i % 400 < 200) ridge.data[i] = 6554;
    const bare = { picture: rasters.picture, depth: ridge, plates: [] };
    const alone = wholeScene({ ...document, plates: [] });
    const guard = openGuard(bare, new Map(), 1, part);
    // 0.5 m aside at 400 px and 2 m: a tenth of the ruler is 10 px, beside the one that parts the pixels. The ridge's left
    // side is folded, its right side drawn out.
    const { stretched } = guard.see(alone, moveTo([0.5, 0, 0]), 10, [null]).facts;
    expect(stretched!.px).toBeCloseTo(11, 1);
    expect(stretched!.plate).toBe(0);
    expect(stretched!.at!.left).toBeCloseTo(189, 0);
    expect(guard.see(alone, moveTo([0, 0, 0]), 0, [null]).facts.stretched).toBeUndefined();
  });
  test('parallax at rest is the budget', () => {
    const { nearPx, farPx } = parallaxAt(sceneAt(scene, null, 0));
    expect(nearPx).toBeCloseTo(-8, 9);
    expect(farPx).toBeCloseTo(6, 9);
  });
  test('the nearest passes by so many px a frame', () => {
    const { speed } = openGuard(rasters, new Map(), 1, part).see(scene, moveTo([0.1, 0, 0]), 4, [null]);
    expect(speed).toBeCloseTo(2, 6);
  });
});

describe('findings', () => {
  const limits: Limits = { width: 400, comfort: { nearPx: -10, farPx: 10 }, judder: 13 };
  const frame = (f: number, more: Partial<GuardedFrame> = {}): GuardedFrame => ({
    frame: f,
    facts: { dry: { left: 0, right: 0, top: 0, bottom: 0 }, open: new Map(), torn: { px: 0 } },
    nearPx: -5,
    farPx: 5,
    speed: 2,
    ...more,
  });
  const dry = (left: number) => ({
    dry: { left, right: 0, top: 0, bottom: 0 },
    open: new Map(),
    torn: { px: 0 },
  });
  test('none in a move that shows nothing', () => {
    expect(
      findings(
        [0, 1, 2, 3].map((f) => frame(f)),
        limits,
      ),
    ).toEqual([]);
  });
  test('run over neighbouring frames, and are worst somewhere', () => {
    const frames = [0, 2, 9, 4, 0, 3].map((px, f) => frame(f, { facts: dry(px) }));
    expect(findings(frames, limits)).toEqual([
      { kind: 'dry', side: 'left', first: 1, last: 3, worst: 2, px: 9 },
      { kind: 'dry', side: 'left', first: 5, last: 5, worst: 5, px: 3 },
    ]);
    expect(overscanFor(findings(frames, limits), size)).toBeCloseTo(1 / (1 - 20 / 400), 9);
  });
  test('what is drawn out, where it is worst', () => {
    const at = { left: 10, top: 20, right: 16, bottom: 21 };
    const facts = (px: number): GuardedFrame['facts'] => ({ ...dry(0), stretched: { px, plate: 1, at } });
    const frames = [0.5, 4, 6].map((px, f) => frame(f, { facts: facts(px) }));
    expect(findings(frames, limits)).toEqual([{ kind: 'stretched', first: 1, last: 2, worst: 2, px: 6, plate: 1, at }]);
  });
  test('what is beyond comfort, too fast, or jumps', () => {
    const frames = [2, 2, 2, 14, 14, 14].map((speed, f) => frame(f, { speed, ...(f === 1 ? { nearPx: -12.5 } : {}) }));
    expect(findings(frames, limits).map(({ kind, first, last, px }) => [kind, first, last, px])).toEqual([
      ['comfort', 1, 1, 2.5],
      ['jump', 2, 2, 12],
      ['judder', 3, 5, 14],
    ]);
  });
});
