import { randomUUID } from 'node:crypto';
import { seeded } from '@/tests/support/chance';
import { pictureOf, type DepthMap, type Picture8 } from '../../raster/picture';
import { drawnMarks } from '../marks/drawnMarks';
import type { MarkStroke } from '../marks/markStroke';
import { remapTable } from '../remapTable';
import { cuesSchema } from '../start/cues';
import { depthMakeSchema, makeDepth, makeLabel } from '.';

const WIDTH = 96;
const HEIGHT = 64;
const random = seeded(11);
/** Green below, blue above, with a little noise. */
const picture: Picture8 = pictureOf(
  { width: WIDTH, height: HEIGHT },
  Uint8Array.from({ length: WIDTH * HEIGHT * 4 }, (_, k) => {
    if (k % 4 === 3) return 255;
    const low = Math.floor((k >> 2) / WIDTH) >= HEIGHT / 2;
    return (low ? [60, 150, 60] : [70, 90, 190])[k % 4] + 6 * random();
  }),
  'straight',
);
const ramp: DepthMap = {
  width: WIDTH,
  height: HEIGHT,
  data: Uint16Array.from({ length: WIDTH * HEIGHT }, (_, i) => 20000 + Math.floor(i / WIDTH) * 300),
};
const ground = { picture, depth: ramp, scale: 0.5 };
const mark = (y: number, says: MarkStroke['says']): MarkStroke => ({
  id: randomUUID(),
  name: '',
  points: [
    { x: 40, y },
    { x: 150, y },
  ],
  width: 8,
  says,
});
const at = (depth: Float32Array, x: number, y: number): number => depth[y * WIDTH + x];

describe('marks', () => {
  const far = mark(24, { kind: 'depth', depth: 0.2 });
  const near = mark(104, { kind: 'depth', depth: 0.7 });

  test('strokes at half size cover what they are drawn on, and no more', () => {
    const { marks } = drawnMarks([far], picture, 0.5);
    const rows = new Set(Array.from(marks[0].pixels, (i) => Math.floor(i / WIDTH)));
    expect([...rows].sort((a, b) => a - b)).toEqual([10, 11, 12, 13]);
    const columns = Array.from(marks[0].pixels, (i) => i % WIDTH);
    expect([Math.min(...columns), Math.max(...columns)]).toEqual([18, 76]);
  });

  test('a stroke beside the picture has no part, nor has what stands to it', () => {
    const beside: MarkStroke = { ...far, id: randomUUID(), points: [{ x: -500, y: -500 }] };
    const same = mark(90, { kind: 'same', as: beside.id });
    const { marks, relations } = drawnMarks([near, beside, same], picture, 0.5);
    expect(marks).toHaveLength(2);
    expect(relations).toEqual([]);
  });

  test('the map is made of them, or the one that is there is bent to them', () => {
    const made = makeDepth(ground, { kind: 'marks', marks: [far, near], by: 'replace' });
    expect(Math.abs(at(made, 48, 12) - 0.2)).toBeLessThan(0.03);
    expect(Math.abs(at(made, 48, 52) - 0.7)).toBeLessThan(0.03);
    // Bent: the same difference everywhere leaves the shape of what was there.
    const shift = 0.1;
    const alike = [24, 64, 104].map((y) =>
      mark(y, { kind: 'depth', depth: ramp.data[(y / 2) * WIDTH] / 65535 + shift }),
    );
    const bent = makeDepth(ground, { kind: 'marks', marks: alike, by: 'correct' });
    for (const y of [5, 30, 60])
      expect(Math.abs(at(bent, 48, y) - ramp.data[y * WIDTH] / 65535 - shift)).toBeLessThan(0.01);
  });

  test('no mark at all leaves the map they began on; none with a depth is refused by name', () => {
    const base = { ...ramp, data: ramp.data.map((v) => v / 2) };
    const made = makeDepth({ ...ground, base }, { kind: 'marks', marks: [], by: 'replace' });
    expect(at(made, 3, 3)).toBeCloseTo(base.data[3 * WIDTH + 3] / 65535, 6);
    expect(() =>
      makeDepth(ground, { kind: 'marks', marks: [mark(50, { kind: 'same', as: far.id })], by: 'replace' }),
    ).toThrow('No mark has a depth');
  });

  test('what travels is checked', () => {
    const wrong = [
      { kind: 'marks', marks: [{ ...far, says: { kind: 'depth', depth: 1.5 } }], by: 'replace' },
      { kind: 'marks', marks: [{ ...far, points: [] }], by: 'replace' },
      { kind: 'start', cues: { position: 3 } },
      {
        kind: 'remap',
        beads: [
          { from: 0.5, to: 0 },
          { from: 0.5, to: 1 },
        ],
        invert: false,
      },
    ];
    for (const make of wrong) expect(depthMakeSchema.safeParse(make).success).toBe(false);
    expect(makeLabel(depthMakeSchema.parse({ kind: 'marks', marks: [far, near], by: 'replace' }))).toBe(
      'Depth from 2 marks',
    );
  });
});

describe('a remap', () => {
  test('of a straight curve is the depth itself; inverted, the other way round', () => {
    const beads = [
      { from: 0, to: 0 },
      { from: 1, to: 1 },
    ];
    const straight = remapTable(beads);
    const turned = remapTable(beads, true);
    for (const v of [0, 1, 777, 32768, 65535]) {
      expect(straight[v]).toBeCloseTo(v / 65535, 6);
      expect(turned[v]).toBeCloseTo(1 - v / 65535, 6);
    }
  });

  test('goes through its beads, never turns back between them, and is flat beyond', () => {
    const beads = [
      { from: 0.1, to: 0.05 },
      { from: 0.4, to: 0.3 },
      { from: 0.5, to: 0.9 },
      { from: 0.9, to: 0.92 },
    ];
    const table = remapTable(beads);
    for (const { from, to } of beads) expect(table[Math.round(from * 65535)]).toBeCloseTo(to, 3);
    for (let v = 1; v < 65536; v++) expect(table[v]).toBeGreaterThanOrEqual(table[v - 1]);
    expect([table[0], table[3000], table[65535]].map((v) => Number(v.toFixed(4)))).toEqual([0.05, 0.05, 0.92]);
  });

  test('is done to every value of a map', () => {
    const made = makeDepth(ground, {
      kind: 'remap',
      beads: [
        { from: 0, to: 1 },
        { from: 1, to: 0 },
      ],
      invert: false,
    });
    expect(at(made, 7, 9)).toBeCloseTo(1 - ramp.data[9 * WIDTH + 7] / 65535, 5);
  });
});

test('a start is the same each time, within 0 to 1, and one cue can be looked at alone', () => {
  const make = { kind: 'start', cues: cuesSchema.parse({}) } as const;
  const first = makeDepth(ground, make);
  expect(makeDepth({ ...ground, picture: { ...picture } }, make)).toEqual(first);
  expect(Math.min(...first)).toBeGreaterThanOrEqual(0);
  expect(Math.max(...first)).toBeLessThanOrEqual(1);
  const position = makeDepth(ground, { ...make, alone: 'position' });
  expect(at(position, 10, 40) - at(position, 10, 20)).toBeCloseTo(20 / HEIGHT, 5);
});

describe('shape', () => {
  const valueAt = (depth: Float32Array, x: number, y: number): number => depth[y * WIDTH + x];
  const flat: DepthMap = { ...ramp, data: new Uint16Array(WIDTH * HEIGHT).fill(26214) };
  const disc = {
    width: WIDTH,
    height: HEIGHT,
    data: Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) =>
      Math.hypot((i % WIDTH) - 48, Math.floor(i / WIDTH) - 32) < 25 ? 255 : 0,
    ),
  };

  test('a disc that is rounded as a ball has a ball’s profile', () => {
    const body = makeDepth(
      { ...ground, depth: flat, matte: disc },
      { kind: 'round', profile: 'ball', by: 0.3, reach: 1 },
    );
    for (const r of [0, 5, 10, 15, 20]) {
      const truth = 0.4 + 0.3 * Math.sqrt(Math.max(0, 1 - (r / 25) ** 2));
      // The edge lies between px, and where the slope is steepest half a px is worth .02.
      expect(Math.abs(valueAt(body, 48 + r, 32) - truth)).toBeLessThan(0.02);
    }
    expect(valueAt(body, 2, 2)).toBeCloseTo(0.4, 4);
  });

  test('a pillow is flat beyond its reach, a tent rises evenly, a hollow sinks', () => {
    const rounded = (make: object): Float32Array =>
      makeDepth({ ...ground, depth: flat, matte: disc }, depthMakeSchema.parse({ kind: 'round', by: 0.2, ...make }));
    const pillow = rounded({ profile: 'pillow', reach: 0.2 });
    for (const x of [48, 55, 65]) expect(valueAt(pillow, x, 32)).toBeCloseTo(0.6, 3);
    const tent = rounded({ profile: 'tent', reach: 1 });
    const steps = [0, 5, 10, 15].map((r) => valueAt(tent, 48 + r, 32) - valueAt(tent, 53 + r, 32));
    for (const step of steps) expect(Math.abs(step - (0.2 * 5) / 25)).toBeLessThan(0.002);
    expect(valueAt(rounded({ profile: 'ball', reach: 1, by: -0.2 }), 48, 32)).toBeCloseTo(0.2, 2);
  });

  test('the back plate has no edge to be rounded from, and says so', () => {
    expect(() => makeDepth(ground, { kind: 'round', profile: 'ball', by: 0.2, reach: 1 })).toThrow(
      'Only a plate that was cut',
    );
  });

  test('a slice moves and stretches what lies between two depths, and leaves all else', () => {
    const steps: DepthMap = {
      ...ramp,
      data: Uint16Array.from({ length: WIDTH * HEIGHT }, (_, i) => ((i % 97) / 96) * 65535),
    };
    const made = makeDepth(
      { ...ground, depth: steps },
      { kind: 'slice', from: 0.4, to: 0.6, by: 0.1, times: 2, soft: 0 },
    );
    steps.data.forEach((v, i) => {
      const d = v / 65535;
      const inside = d >= 0.4 && d <= 0.6;
      expect(made[i]).toBeCloseTo(inside ? 0.5 + 2 * (d - 0.5) + 0.1 : d, 4);
    });
    const softly = makeDepth(
      { ...ground, depth: steps },
      { kind: 'slice', from: 0.4, to: 0.6, by: 0.1, times: 1, soft: 0.1 },
    );
    const k = steps.data.findIndex((v) => Math.abs(v / 65535 - 0.35) < 0.006);
    const t = 1 - (0.4 - steps.data[k] / 65535) / 0.1;
    expect(softly[k]).toBeCloseTo(steps.data[k] / 65535 + 0.1 * t * t * (3 - 2 * t), 4);
    expect(depthMakeSchema.safeParse({ kind: 'slice', from: 0.6, to: 0.4, by: 0, times: 1, soft: 0 }).success).toBe(
      false,
    );
  });

  test('fitted to the picture’s edges, a soft depth edge beside one becomes a hard one there', () => {
    // Depth rises over 12 px around the edge between blue and green.
    const soft: DepthMap = {
      ...ramp,
      data: Uint16Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
        const y = Math.floor(i / WIDTH) - HEIGHT / 2;
        return (0.3 + 0.4 * Math.min(1, Math.max(0, (y + 6) / 12))) * 65535;
      }),
    };
    const step = (depth: Float32Array): number => valueAt(depth, 40, HEIGHT / 2) - valueAt(depth, 40, HEIGHT / 2 - 1);
    const made = makeDepth({ ...ground, depth: soft }, { kind: 'fit', reach: 30, edge: 8 });
    expect(step(Float32Array.from(soft.data, (v) => v / 65535))).toBeLessThan(0.04);
    expect(step(made)).toBeGreaterThan(0.2);
  });

  test('terraces of 8 bits are evened by half a step at most', () => {
    const terraced: DepthMap = {
      ...ramp,
      data: Uint16Array.from(
        { length: WIDTH * HEIGHT },
        (_, i) => Math.round(40 + (i % WIDTH) * 0.12 + Math.floor(i / WIDTH) * 0.07) * 257,
      ),
    };
    const made = makeDepth({ ...ground, depth: terraced }, { kind: 'mend' });
    let changed = 0;
    terraced.data.forEach((v, i) => {
      const off = Math.abs(made[i] * 65535 - v);
      expect(off).toBeLessThanOrEqual(257 / 2 + 1);
      if (off > 1) changed++;
    });
    expect(changed / terraced.data.length).toBeGreaterThan(0.5);
  });
});
