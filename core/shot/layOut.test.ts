import type { CutPlate, ShotRasters } from './rasters';
import type { DepthMap, Mask, Picture, Premultiplied8, Straight8 } from '../raster/picture';
import { premultiply } from '../raster/alpha';
import { hiddenParts, pushedOut } from './hidden';
import { layOutPlates } from './layOut';
import { mergeDepth } from './mergeDepth';
import { paintOn } from './paintOn';
import { platePicture } from './plates';

const width = 100;
const height = 60;
const map = (value: (x: number, y: number) => number): DepthMap => ({
  width,
  height,
  data: Uint16Array.from({ length: width * height }, (_, i) => value(i % width, Math.floor(i / width))),
});
const maskOf = (is: (x: number, y: number) => boolean): Mask => ({
  width,
  height,
  data: Uint8Array.from({ length: width * height }, (_, i) => (is(i % width, Math.floor(i / width)) ? 255 : 0)),
});
const paint = (colour: (x: number, y: number) => readonly number[] | undefined): Straight8 => ({
  bits: 8 as const,
  alpha: 'straight' as const,
  width,
  height,
  data: Uint8Array.from(
    Array.from({ length: width * height }, (_, i) => colour(i % width, Math.floor(i / width)) ?? [0, 0, 0, 0]).flat(),
  ),
});
const at = ({ data }: Picture, x: number, y: number, rows = 0): number[] => [
  ...data.slice(((y - rows) * width + x) * 4, ((y - rows) * width + x) * 4 + 4),
];

/** A wide panel from 10 to 90, and before it a post from 45 to 55: the panel goes on behind the post. */
const panel = (x: number, y: number): boolean => x >= 10 && x < 90 && y >= 20 && y < 40;
const post = (x: number, y: number): boolean => x >= 45 && x < 55 && y >= 5 && y < 55;
const BLUE = [40, 60, 120, 255];
const SAND = [210, 180, 120, 255];
const RED = [180, 30, 20, 255];
const GREEN = [20, 150, 60, 255];
const PINK = [250, 120, 200, 255];
/** One of three values: the post's, the panel's behind it, or the wall's. */
const scene =
  <T>(onPost: T, onPanel: T, onWall: T) =>
  (x: number, y: number): T => {
    if (post(x, y)) return onPost;
    return panel(x, y) ? onPanel : onWall;
  };
const coloured = paint(scene(RED, SAND, BLUE));
const source = premultiply(coloured);
const depth = map(scene(60000, 30000, 2000));
const cut = (id: string, is: (x: number, y: number) => boolean, more: Partial<CutPlate> = {}): CutPlate => ({
  id,
  matte: maskOf(is),
  depth: map(() => 65535),
  ...more,
});
const panelAlone = (x: number, y: number): boolean => panel(x, y) && !post(x, y);
const lay = (
  panelMore: Partial<CutPlate> = {},
  back: Parameters<typeof layOutPlates>[3] = {},
): ShotRasters<Premultiplied8> =>
  layOutPlates(source, depth, [cut('panel', panelAlone, panelMore), cut('post', post)], { push: 2, ...back });
const rasterOf = (rasters: ShotRasters<Premultiplied8>, id: string) => rasters.plates.find((p) => p.id === id)!;

describe('what plates hide', () => {
  test('a plate pushed out holds every pixel no farther than that, and no other', () => {
    const out = pushedOut(
      maskOf((x, y) => x === 50 && y === 30),
      3,
    )!;
    for (let y = 0; y < out.height; y++)
      for (let x = 0; x < out.width; x++)
        expect(out.data[y * out.width + x]).toBe(Math.hypot(out.left + x - 50, out.top + y - 30) <= 3 ? 255 : 0);
    expect(
      pushedOut(
        maskOf(() => false),
        3,
      ),
    ).toBeUndefined();
  });

  test('belongs to the plate whose visible pixels are nearest; beside that to the back plate', () => {
    const mattes = [maskOf(panelAlone), maskOf(post)];
    const [behindPost, nothing] = hiddenParts(
      mattes,
      mattes.map((m) => pushedOut(m, 2)),
    );
    expect(nothing).toBeUndefined();
    const hidden = (x: number, y: number): number => behindPost!.data[y * width + x];
    expect([hidden(50, 30), hidden(46, 21), hidden(43, 30)]).toEqual([255, 255, 255]);
    // Above and below the panel the back plate is nearer.
    expect([hidden(50, 8), hidden(50, 52), hidden(50, 45), hidden(30, 30)]).toEqual([0, 0, 0, 0]);
  });

  test('one plate alone hides only the back plate', () => {
    expect(hiddenParts([maskOf(post)], [pushedOut(maskOf(post), 2)])).toEqual([undefined]);
  });
});

describe('laying out', () => {
  test('behind the post the panel goes on in its own colour, whole, and says so', () => {
    const { top, picture, hidden } = rasterOf(lay(), 'panel');
    for (const [x, y] of [
      [50, 30],
      [45, 22],
      [54, 38],
    ]) {
      expect(at(picture, x, y, top)).toEqual(SAND);
      expect(hidden!.data[(y - top) * width + x]).toBe(255);
    }
    expect(at(picture, 5, 30, top)).toEqual([0, 0, 0, 0]);
    expect(rasterOf(lay(), 'post').hidden).toBeUndefined();
  });

  test('the back plate goes on behind both, in colour and in depth', () => {
    const { picture, depth: behind, hole } = lay();
    for (const [x, y] of [
      [50, 30],
      [20, 30],
      [50, 10],
    ]) {
      expect(at(picture, x, y)).toEqual(BLUE);
      expect(behind.data[y * width + x]).toBe(2000);
      expect(hole!.data[y * width + x]).toBe(255);
    }
    expect(hole!.data[30 * width + 2]).toBe(0);
  });

  test('a fill shows where something hides the plate and nowhere else; half of it is half', () => {
    const fill = paint((x) => (x < 50 ? GREEN : [...GREEN.slice(0, 3), 128]));
    const { top, picture } = rasterOf(lay({ fill }), 'panel');
    const back = lay({}, { fill });
    expect(at(picture, 48, 30, top)).toEqual(GREEN);
    expect(at(picture, 30, 30, top)).toEqual(SAND);
    const half = at(picture, 53, 30, top);
    for (let c = 0; c < 3; c++)
      expect(Math.abs(half[c] - (SAND[c] * 127 + GREEN[c] * 128) / 255)).toBeLessThanOrEqual(1);
    expect([at(back.picture, 20, 30), at(back.picture, 2, 2)]).toEqual([GREEN, BLUE]);
  });

  test('once the plate before it is gone a fill lies waiting: the picture is the source again', () => {
    const fill = paint(() => GREEN);
    const bare = layOutPlates(source, depth, [], { fill });
    expect(bare.picture).toBe(source);
    const alone = layOutPlates(source, depth, [cut('panel', panelAlone, { fill })], { push: 2 });
    for (const [x, y] of [
      [30, 30],
      [80, 25],
    ])
      expect(at(rasterOf(alone, 'panel').picture, x, y, rasterOf(alone, 'panel').top)).toEqual(SAND);
    expect(at(alone.picture, 50, 30)).not.toEqual(GREEN);
  });

  test('what was painted over a plate’s own pixels shows there, and stays when plates come and go', () => {
    const overpaint = paint((x, y) => (y === 30 && (x === 30 || x === 3) ? PINK : undefined));
    expect(at(rasterOf(lay({ overpaint }), 'panel').picture, 30, 30, rasterOf(lay(), 'panel').top)).toEqual(PINK);
    expect(at(lay({}, { overpaint }).picture, 3, 30)).toEqual(PINK);
    const bare = layOutPlates(source, depth, [], { overpaint });
    expect([at(bare.picture, 3, 30), at(bare.picture, 30, 30), at(bare.picture, 4, 30)]).toEqual([PINK, PINK, BLUE]);
    // Never under the source's own colours: the source itself stays as it came.
    expect(at(source, 3, 30)).toEqual(BLUE);
  });

  test('a painted depth behind counts in the hole only', () => {
    const { depth: behind } = lay({}, { behind: map(() => 9000) });
    expect([behind.data[30 * width + 20], behind.data[30 * width + 3]]).toEqual([9000, 2000]);
  });

  test('a brought-in plate leaves no hole', () => {
    const brought = layOutPlates(source, depth, [cut('post', post, { picture: paint(() => GREEN) })]);
    expect(brought.picture).toBe(source);
    expect(brought.hole).toBeUndefined();
    expect(at(brought.plates[0].picture, 50, 30, brought.plates[0].top)).toEqual(GREEN);
  });

  test('rasters of another size are refused by name', () => {
    const small: DepthMap = { width: 10, height: 60, data: new Uint16Array(600) };
    expect(() => layOutPlates(source, small, [])).toThrow('10 × 60');
    expect(() => layOutPlates(source, depth, [{ ...cut('post', post), depth: small }])).toThrow('10 × 60');
  });
});

describe('what is put on a plate', () => {
  const upper: Straight8 = {
    bits: 8 as const,
    alpha: 'straight' as const,
    width: 2,
    height: 2,
    data: Uint8Array.of(0, 0, 0, 0, 0, 0, 0, 0, 200, 200, 200, 51, 255, 0, 0, 0),
  };
  const under = (): Premultiplied8 => ({
    bits: 8 as const,
    alpha: 'premultiplied' as const,
    width: 2,
    height: 1,
    data: Uint8Array.of(100, 50, 0, 128, 9, 9, 9, 255),
  });

  test('over its own pixels keeps their transparency, worked by hand', () => {
    // Under: half-covered premultiplied (100, 50, 0, 128). Upper: straight (200, 200, 200) at 51/255 = 0.2.
    // 100 * 0.8 + 200 * 0.2 * 128/255 = 100.08; 50 * 0.8 + 20.08 = 60.08; 20.08.
    const picture = under();
    paintOn(picture, { overpaint: upper }, { top: 1 });
    expect([...picture.data]).toEqual([100, 60, 20, 128, 9, 9, 9, 255]);
  });
  test('where it is hidden makes it as whole as what was filled in', () => {
    // 100 * 0.8 + 200 * 0.2 = 120; 80; 40; 128 + 127 * 0.2 = 153.4.
    const picture = under();
    const hidden: Mask = { width: 2, height: 1, data: Uint8Array.of(255, 0) };
    paintOn(picture, { fill: upper }, { hidden, top: 1 });
    expect([...picture.data]).toEqual([120, 80, 40, 153, 9, 9, 9, 255]);
    paintOn(picture, { overpaint: upper }, { hidden, top: 1 });
    expect([...picture.data]).toEqual([120, 80, 40, 153, 9, 9, 9, 255]);
  });
  test('lands in a rectangle only, where one is given', () => {
    const picture = under();
    paintOn(picture, { overpaint: upper }, { top: 1, rect: { left: 1, top: 0, right: 2, bottom: 2 } });
    expect(picture).toEqual(under());
    paintOn(picture, { overpaint: upper }, { top: 1, rect: { left: 0, top: 0, right: 2, bottom: 1 } });
    expect(picture).toEqual(under());
  });
});

test('a plate handed out alone is its own colours in straight alpha, and nothing where nothing shows', () => {
  const out = platePicture(
    coloured,
    cut('panel', panelAlone, { overpaint: paint((x, y) => (x === 30 && y === 30 ? PINK : undefined)) }),
  );
  expect([at(out, 30, 30), at(out, 31, 30), at(out, 50, 30), at(out, 2, 2)]).toEqual([
    PINK,
    SAND,
    [0, 0, 0, 0],
    [0, 0, 0, 0],
  ]);
});

test('what was painted over a half-clear plate keeps its own colour when the plate is handed out', () => {
  // Straight: colour of its own, coverage of the plate; multiplied by it before, it came out half as bright.
  const half = paint((x, y) => [...scene(RED, SAND, BLUE)(x, y).slice(0, 3), 128]);
  const out = platePicture(
    half,
    cut('panel', panelAlone, { overpaint: paint((x, y) => (x === 30 && y === 30 ? PINK : undefined)) }),
  );
  const found = at(out, 30, 30);
  // Through 8 premultiplied bits at 128 of 255 a colour is a step off at most.
  for (let c = 0; c < 3; c++) expect(Math.abs(found[c] - PINK[c])).toBeLessThanOrEqual(1);
  expect(found[3]).toBe(128);
});

describe('two plates’ depths as one', () => {
  const left = maskOf((x) => x < 50);
  const right = maskOf((x) => x >= 50);
  const value = (merged: ReturnType<typeof mergeDepth>, x: number): number =>
    merged.far + ((merged.near - merged.far) * merged.depth.data[x]) / 65535;

  test('keep each its depth on the ruler, over a span that holds both', () => {
    const a = { matte: left, depth: map((x) => x * 1000), near: 0.9, far: 0.5 };
    const b = { matte: right, depth: map(() => 32768), near: 0.4, far: 0.2 };
    const merged = mergeDepth(a, b);
    expect([merged.near, merged.far]).toEqual([0.9, 0.2]);
    // Steps of the merged map are 0.7 / 65535 of the ruler.
    expect(Math.abs(value(merged, 20) - (0.5 + (0.4 * 20000) / 65535))).toBeLessThan(1e-5);
    expect(Math.abs(value(merged, 70) - 0.3)).toBeLessThan(1e-5);
  });
  test('where both cover alike the nearer one counts, whichever is named first', () => {
    const whole = maskOf(() => true);
    const near = { matte: whole, depth: map(() => 0), near: 0.9, far: 0.8 };
    const far = { matte: whole, depth: map(() => 0), near: 0.3, far: 0.1 };
    for (const merged of [mergeDepth(near, far), mergeDepth(far, near)]) expect(value(merged, 5)).toBeCloseTo(0.8, 4);
  });
  test.each([0, 0.5, 0.995])('two flat plates at %d still have a span, within the ruler', (far) => {
    const flat = { matte: left, depth: map(() => 0), near: far + 0.005, far };
    const merged = mergeDepth(flat, { ...flat, matte: right });
    expect(merged.near - merged.far).toBeGreaterThanOrEqual(0.02 - 1e-12);
    expect([merged.near, 1 - merged.far].every((v) => v >= 0 && v <= 1)).toBe(true);
    expect(Math.abs(value(merged, 5) - far)).toBeLessThan(1e-6);
  });
});
