import { seeded } from '@/tests/support/chance';
import type { Mask } from '../raster/picture';
import { PLAIN_EDGE, type Choice, shiftChoice } from './choice';
import { joinMattes, spareOthers, splitMatte } from './share';
import { drawStroke } from './stroke';

const row = (...data: number[]): Mask => ({ width: data.length, height: 1, data: Uint8Array.from(data) });

describe('plates that share a picture', () => {
  test('a matte leaves to others what they hold: behind a soft edge it shows as much as that lets through', () => {
    expect(spareOthers(row(255, 255, 255, 128, 0), [row(0, 255, 128, 128, 255)])).toEqual(row(255, 0, 127, 64, 0));
    expect(spareOthers(row(255, 255), [row(128, 0), row(128, 0)])).toEqual(row(63, 255));
    expect(spareOthers(row(7, 9), [])).toEqual(row(7, 9));
  });

  test('split along any soft choice and joined again it is what it was, to the value', () => {
    const chance = seeded(5);
    const any = (): number[] => Array.from({ length: 400 }, () => Math.floor(chance() * 256));
    const matte = row(...any());
    const { taken, left } = splitMatte(matte, row(...any()));
    expect(joinMattes(taken, left)).toEqual(matte);
    for (let i = 0; i < 400; i++) expect(taken.data[i]).toBeLessThanOrEqual(matte.data[i]);
  });

  test('joined coverage never exceeds the whole', () => {
    expect(joinMattes(row(200, 255, 0), row(100, 255, 3))).toEqual(row(255, 255, 3));
  });

  test('mattes of different sizes are refused', () => {
    for (const share of [
      () => spareOthers(row(1, 2), [row(1)]),
      () => splitMatte(row(1, 2), row(1)),
      () => joinMattes(row(1, 2), row(1)),
    ])
      expect(share).toThrow('1 × 1');
  });
});

describe('a stroke', () => {
  test('marks the pixels whose centres lie no farther from its path than its radius', () => {
    const marks = new Uint8Array(40 * 30);
    const a = { x: 8.5, y: 10 };
    const b = { x: 30, y: 20.5 };
    drawStroke({ width: 40, height: 30, data: marks }, [a, b], { radius: 4, value: 7 });
    for (let y = 0; y < 30; y++) {
      for (let x = 0; x < 40; x++) {
        const px = x + 0.5 - a.x;
        const py = y + 0.5 - a.y;
        const dx = b.x - a.x;
        const dy = b.y - a.y;
        const t = Math.min(1, Math.max(0, (px * dx + py * dy) / (dx * dx + dy * dy)));
        expect(marks[y * 40 + x]).toBe(Math.hypot(px - t * dx, py - t * dy) <= 4 ? 7 : 0);
      }
    }
  });
  test('of one point is a dot; the thinnest still marks a pixel; outside it marks nothing', () => {
    const marks = new Uint8Array(100);
    drawStroke({ width: 10, height: 10, data: marks }, [{ x: 5.5, y: 5.5 }], { radius: 0.01, value: 1 });
    expect([...marks.keys()].filter((i) => marks[i])).toEqual([55]);
    drawStroke({ width: 10, height: 10, data: marks }, [{ x: -20, y: 40 }], { radius: 5, value: 1 });
    expect(marks.filter((v) => v)).toHaveLength(1);
  });
});

test('on a canvas that has grown every place of a choice moves along, colours and depths stay', () => {
  const p = { x: 1, y: 2 };
  const choice: Choice = {
    ingredients: [
      { kind: 'outline', way: 'add', points: [p, { x: 5, y: 2 }, { x: 5, y: 9 }] },
      { kind: 'trace', way: 'add', points: [p, { x: 5, y: 2 }, { x: 5, y: 9 }] },
      {
        kind: 'curve',
        way: 'take',
        nodes: [
          { x: 1, y: 2, inX: 0, inY: 2, outX: 2, outY: 2 },
          { x: 8, y: 2, inX: 7, inY: 2, outX: 9, outY: 2 },
        ],
      },
      { kind: 'slice', way: 'intersect', far: 0.2, near: 0.7 },
    ],
    edge: { ...PLAIN_EDGE, offsetPx: 3, unsure: [{ size: 4, points: [p] }] },
  };
  const moved = shiftChoice(choice, 10, -1);
  expect(moved.ingredients[0]).toMatchObject({
    way: 'add',
    points: [
      { x: 11, y: 1 },
      { x: 15, y: 1 },
      { x: 15, y: 8 },
    ],
  });
  expect(moved.ingredients[1]).toMatchObject({ points: [{ x: 11, y: 1 }, {}, {}] });
  expect(moved.ingredients[2]).toMatchObject({
    nodes: [
      { x: 11, y: 1, inX: 10, inY: 1, outX: 12, outY: 1 },
      { x: 18, y: 1, inX: 17, inY: 1, outX: 19, outY: 1 },
    ],
  });
  expect(moved.ingredients[3]).toEqual(choice.ingredients[3]);
  expect(moved.edge).toEqual({ ...choice.edge, unsure: [{ size: 4, points: [{ x: 11, y: 1 }] }] });
  expect(shiftChoice(moved, -10, 1)).toEqual(choice);
});
