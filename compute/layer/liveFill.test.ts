import type { CutPlate } from '@/core/shot/rasters';
import type { FillEdit } from '@/core/fill/edits';
import { HandFill } from '@/core/fill/handFill';
import { plateGround } from '@/core/fill/plateGround';
import type { DepthMap, Mask, Premultiplied8 } from '@/core/raster/picture';
import { layOutPlates } from '@/core/shot/layOut';
import { LiveFill } from './liveFill';
import type { Painted8 } from './place';

const width = 100;
const height = 60;
const box = (x: number, y: number): boolean => x >= 40 && x < 70 && y >= 10 && y < 50;
const picture = (): Premultiplied8 => ({
  bits: 8 as const,
  alpha: 'premultiplied' as const,
  width,
  height,
  data: Uint8Array.from({ length: width * height * 4 }, (_, i) => {
    const p = i >> 2;
    const x = p % width;
    const y = Math.floor(p / width);
    const colour = box(x, y) ? [200, 200, 200, 255] : [x * 2, y * 4, (x + y) & 255, 255];
    return colour[i & 3];
  }),
});
const depth: DepthMap = { width, height, data: new Uint16Array(width * height) };
const matte: Mask = {
  width,
  height,
  data: Uint8Array.from({ length: width * height }, (_, i) => (box(i % width, Math.floor(i / width)) ? 255 : 0)),
};
const plates: readonly CutPlate[] = [{ id: 'box', matte, depth }];
const place = { left: 0, top: 0, scale: 1 };
const at = ({ data }: Premultiplied8, x: number, y: number): number[] => [
  ...data.slice((y * width + x) * 4, (y * width + x) * 4 + 4),
];
const clone = (x: number, y: number, more: Partial<Extract<FillEdit, { kind: 'clone' }>> = {}): FillEdit => ({
  kind: 'clone',
  size: 12,
  hardness: 1,
  strength: 1,
  points: [{ x, y }],
  sources: [{ dx: -30, dy: 0 }],
  scale: 1,
  turn: 0,
  flip: false,
  jitter: 0,
  seed: 1,
  seamless: false,
  beyond: false,
  ...more,
});
const erase = (x: number, y: number): FillEdit => ({
  kind: 'erase',
  size: 12,
  hardness: 1,
  strength: 1,
  points: [{ x, y }],
});

/** The plates with nothing on them, and as they are shown. */
function open(painted: Painted8 = {}) {
  const bare = layOutPlates(picture(), depth, plates);
  const shown = layOutPlates(picture(), depth, plates, painted);
  return {
    live: new LiveFill(bare, (plate) => (plate === null ? painted : {}), place),
    shown,
    before: shown.picture.data.slice(),
  };
}
const edits = (...list: FillEdit[]) => list.map((edit, k) => ({ n: k + 1, plate: null, edit }));

describe('what hands draw', () => {
  test('shows at once what the server will make of it', () => {
    const { live, shown } = open();
    const list = [clone(50, 30), clone(62, 22, { seamless: true, size: 20 }), erase(48, 28)];
    expect([...live.follow(edits(...list), shown).keys()]).toEqual([null]);
    const server = new HandFill(plateGround(layOutPlates(picture(), depth, plates), null)!, {
      fill: { ...picture(), alpha: 'straight', data: new Uint8Array(width * height * 4) },
      overpaint: { ...picture(), alpha: 'straight', data: new Uint8Array(width * height * 4) },
    });
    for (const edit of list) server.apply(edit);
    expect(Buffer.from(shown.picture.data).equals(Buffer.from(server.picture.data))).toBe(true);
    expect(Buffer.from(live.fillOf(null)!.data).equals(Buffer.from(server.fill.data))).toBe(true);
  });

  test('a stroke that grows under the pen is drawn once, not over itself', () => {
    const grown = open();
    const whole = open();
    const path = [50, 53, 56, 60].map((x) => ({ x, y: 30 }));
    const soft = { hardness: 0, strength: 0.4 };
    for (let n = 1; n <= path.length; n++)
      grown.live.follow(edits(clone(0, 0, { ...soft, points: path.slice(0, n) })), grown.shown);
    whole.live.follow(edits(clone(0, 0, { ...soft, points: path })), whole.shown);
    expect(Buffer.from(grown.shown.picture.data).equals(Buffer.from(whole.shown.picture.data))).toBe(true);
  });

  test('given up, taken back or stored elsewhere, nothing of it is left', () => {
    const { live, shown, before } = open({
      fill: {
        bits: 8,
        alpha: 'straight',
        width,
        height,
        data: Uint8Array.from({ length: width * height * 4 }, (_, i) => [10, 240, 60, 255][i & 3]),
      },
    });
    live.follow(edits(clone(50, 30), erase(60, 30), clone(52, 32, { beyond: true, size: 40 })), shown);
    expect(Buffer.from(shown.picture.data).equals(Buffer.from(before))).toBe(false);
    live.follow(edits(clone(50, 30)), shown);
    live.follow([], shown);
    expect(Buffer.from(shown.picture.data).equals(Buffer.from(before))).toBe(true);
    expect(live.follow([], shown).size).toBe(0);
  });

  test('what was stored before stays under it; erased, the smooth ground comes back', () => {
    const { live, shown } = open({
      fill: {
        bits: 8,
        alpha: 'straight',
        width,
        height,
        data: Uint8Array.from({ length: width * height * 4 }, (_, i) => [10, 240, 60, 255][i & 3]),
      },
    });
    const bare = layOutPlates(picture(), depth, plates);
    expect(at(shown.picture, 50, 30)).toEqual([10, 240, 60, 255]);
    live.follow(edits(erase(50, 30)), shown);
    expect(at(shown.picture, 50, 30)).toEqual(at(bare.picture, 50, 30));
    expect(at(shown.picture, 65, 45)).toEqual([10, 240, 60, 255]);
  });

  test('a stroke that lands nowhere changes nothing, and those after it still show', () => {
    const { live, shown } = open();
    live.follow(edits(clone(90, 30), clone(50, 30)), shown);
    expect(at(shown.picture, 50, 30)).toEqual([...[20 * 2, 30 * 4, 50], 255]);
    expect(at(shown.picture, 90, 30)).toEqual(at(picture(), 90, 30));
  });

  test('on a plate it lands in that plate’s rows; a plate that is gone shows nothing', () => {
    const { live, shown } = open();
    const list = [
      { n: 1, plate: 'box', edit: clone(55, 30, { beyond: true, sources: [{ dx: -40, dy: 0 }] }) },
      { n: 2, plate: 'gone', edit: clone(55, 30) },
    ];
    expect(live.follow(list, shown)).toEqual(new Map([['box', { left: 49, top: 24, right: 61, bottom: 36 }]]));
    const [{ picture: rows, top }] = shown.plates;
    // Beside the box lies nothing of the plate: what is copied is empty.
    expect(at(rows, 55, 30 - top).slice(0, 3)).toEqual([0, 0, 0]);
    expect(at(rows, 45, 45 - top)).toEqual([200, 200, 200, 255]);
    expect(at(shown.picture, 55, 30)).not.toEqual([0, 0, 0, 255]);
  });

  test('in a window at half the size the same place is filled', () => {
    const bare = layOutPlates(picture(), depth, plates);
    const shown = layOutPlates(picture(), depth, plates);
    const half = new LiveFill(bare, () => ({}), { left: 1000, top: 400, scale: 0.5 });
    half.follow(edits(clone(1100, 460, { size: 24, sources: [{ dx: -60, dy: 0 }] })), shown);
    expect(at(shown.picture, 50, 30)).toEqual([40, 120, 50, 255]);
  });
});
