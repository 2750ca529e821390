import { PLAIN_EDGE, type Choice } from '@/core/matte/choice';
import type { DepthMap, Mask, Picture8 } from '@/core/raster/picture';
import type { StereoPart } from '@/core/shot/renderView';
import { Layer, type LayerPlace, type LayerPlate } from './layer';
import type { LookRequest, Way } from './ways';

const width = 80, height = 40, id = '0f8fad5b-d9cb-469f-a165-70867728950e';
const place = (scale = 1): LayerPlace => ({ left: 0, top: 0, right: width, bottom: height, shown: { left: 0, top: 0, right: width, bottom: height }, scale });
const box = (x: number, y: number): boolean => x >= 20 && x < 40 && y >= 10 && y < 30;
const picture = (): Picture8 => ({ width, height, data: Uint8Array.from({ length: width * height * 4 }, (_, i) => { const p = i >> 2; return (i & 3) === 3 ? 255 : box(p % width, Math.floor(p / width)) ? [220, 120, 30][i & 3] : 90; }) });
const depth = (): Uint16Array => Uint16Array.from({ length: width * height }, (_, i) => (box(i % width, Math.floor(i / width)) ? 52428 : 13107));
const whole = (value: number): DepthMap => ({ width, height, data: new Uint16Array(width * height).fill(value) });
const matte: Mask = { width, height, data: Uint8Array.from({ length: width * height }, (_, i) => (box(i % width, Math.floor(i / width)) ? 255 : 0)) };
const plate: LayerPlate = { id, matte, depth: whole(65535) };
const part = (plates: StereoPart['plates'] = []): StereoPart => ({ budget: { nearPx: -10, farPx: 5 }, sourceEye: 'centre', swapEyes: false, tearPx: 2, depth: { near: 1, far: 0 }, source: { width }, plates });
const cutPart = part([{ id, matte: id, hidden: false, depth: { near: 0.75, far: 0.25 } }]);
const request = (way: Way, more: Partial<LookRequest> = {}): LookRequest => ({ way, flipped: false, markReveal: false, document: part(), depthStrength: 1, contourPx: 1000, active: null, choice: undefined, ground: undefined, ...more });
const layer = (plates: readonly LayerPlate[] = []): Layer => new Layer(place(), picture(), depth(), plates, undefined);
const at = (data: Uint8ClampedArray, x: number, y: number): number[] => [...data.slice((y * width + x) * 4, (y * width + x) * 4 + 3)];
const outline: Choice = { ingredients: [{ kind: 'outline', way: 'add', points: [{ x: 20, y: 10 }, { x: 40, y: 10 }, { x: 40, y: 30 }, { x: 20, y: 30 }] }], edge: PLAIN_EDGE };

describe('a layer of the preview', () => {
  test('shows the picture, its depth, and both eyes', async () => {
    const l = layer();
    expect(at((await l.look(request('picture'))).frame.data, 30, 20)).toEqual([220, 120, 30]);
    expect(at((await l.look(request('depth'))).frame.data, 30, 20)).toEqual([204, 204, 204]);
    const { frame } = await l.look(request('both'));
    expect(frame).toMatchObject({ width: 2 * width, height, left: 0, right: 2 * width });
    // Nearer things lie farther left in the right eye's view than in the left eye's.
    const orange = (from: number): number => Array.from({ length: width }, (_, x) => x).find((x) => frame.data[(20 * 2 * width + from + x) * 4] > 180)!;
    expect(orange(width)).toBeLessThan(orange(0));
  });

  test('depth is that of everything over everything: a plate’s map through its own span', async () => {
    const l = layer([plate]);
    const grey = at((await l.look(request('depth', { document: cutPart }))).frame.data, 30, 20)[0];
    expect(Math.abs(grey - 0.75 * 255)).toBeLessThanOrEqual(1);
    expect(at((await l.look(request('depth', { document: cutPart }))).frame.data, 60, 20)).toEqual([51, 51, 51]);
    const hidden = { ...cutPart, plates: [{ ...cutPart.plates[0], hidden: true }] };
    expect(at((await l.look(request('depth', { document: hidden }))).frame.data, 30, 20)).toEqual([204, 204, 204]);
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

  test('what is not chosen, or not of the plate in work, is set back', () => {
    const l = layer([plate]), rect = { left: 0, top: 0, right: width, bottom: height };
    for (const data of [l.lookFlat(request('picture', { choice: outline }), rect).data, l.lookFlat(request('picture', { active: id }), rect).data]) {
      expect(at(data, 30, 20)).toEqual([220, 120, 30]);
      expect(at(data, 60, 20)).not.toEqual([90, 90, 90]);
    }
  });

  test('a cut is shown alone on each ground', () => {
    const l = layer(), rect = { left: 0, top: 0, right: width, bottom: height };
    const on = (ground: LookRequest['ground']): Uint8ClampedArray => l.lookFlat(request('picture', { choice: outline, ground }), rect).data;
    expect([at(on('black'), 60, 20), at(on('white'), 60, 20), at(on('grey'), 60, 20)]).toEqual([[0, 0, 0], [255, 255, 255], [116, 116, 116]]);
    expect(at(on('black'), 30, 20)).toEqual([220, 120, 30]);
    expect([at(on('matte'), 30, 20), at(on('matte'), 60, 20)]).toEqual([[255, 255, 255], [0, 0, 0]]);
    expect(new Set([at(on('checks'), 0, 0)[0], at(on('checks'), 8, 0)[0]]).size).toBe(2);
  });

  test('a window in detail takes the choice from the whole picture, whatever of it lies inside', () => {
    const detail = new Layer({ ...place(), left: 30, right: 60 }, { width: 30, height, data: picture().data.slice(0, 30 * height * 4) }, new Uint16Array(30 * height), [], undefined);
    const strokes: Choice = { ingredients: [{ kind: 'region', way: 'add', strokes: [{ side: 'in', size: 4, points: [{ x: 24, y: 20 }] }, { side: 'out', size: 4, points: [{ x: 70, y: 20 }] }] }], edge: PLAIN_EDGE };
    const from = layer();
    expect(from.choose(strokes)).toBeDefined();
    detail.borrowChoice(strokes, from);
    const borrowed = detail.choose(strokes)!;
    for (let y = 0; y < height; y++) for (let x = 0; x < 30; x++) expect(borrowed.data[y * 30 + x]).toBe(from.choose(strokes)!.data[y * width + 30 + x]);
  });
});
