import { behindHashes, carriedName, depthFrom, isCarriedName, momentOfName, plateName } from './carriedNames';
import { atMoment, requirePlateKey, storedMoment } from './atMoment';
import { newDocument, type Plate, type PlateKey, type ShotDocument } from './document';

const ID = (n: number): string => `7b0c1c52-6f0a-4a53-9d55-0d5a2f3f8a${String(n).padStart(2, '0')}`;
const source = {
  ...{ mediaId: ID(1), fileName: 'a.mp4', width: 960, height: 600, bits: 8 as const, hasAlpha: false, told: '' },
  moment: 0,
};
const key = (frame: number, n: number, near = 0.6): PlateKey => ({
  frame,
  matte: ID(n),
  choice: null,
  depth: { revision: ID(n + 1), near, far: near - 0.2 },
});
const plate = (keys: PlateKey[]): Plate => ({
  ...{ id: ID(2), name: 'Lantern', choice: null, piece: null, fill: null, overpaint: null, strokes: [] },
  ...{ tearPx: null, tearSoftPx: null, group: null, hidden: false, locked: false },
  // It stands at its first key.
  matte: keys[0].matte,
  depth: keys[0].depth,
  keys,
});
const film = (keys: PlateKey[]): ShotDocument => ({
  ...newDocument(source, ID(3)),
  plates: [plate(keys)],
  footage: {
    ...{ frames: 48, rate: { numerator: 24, denominator: 1 }, sound: null, range: null, script: [], markers: [] },
    keys: [{ frame: 0, revision: ID(3), marks: [], keptDepths: [] }],
    fills: [],
  },
});

describe('a plate of a film', () => {
  const document = film([key(0, 10, 0.6), key(20, 20, 0.8)]);
  const name = plateName(source.mediaId, document.plates[0], 5);

  test('is what its key says, what is carried, or not to be seen; its span runs between its keys', () => {
    expect(atMoment(document, 20).plates[0]).toMatchObject({ matte: ID(20), depth: { revision: ID(21), near: 0.8 } });
    expect(atMoment(document, 5).plates[0]).toMatchObject({ matte: null, depth: { revision: null } });
    const there = atMoment(document, 5, (asked) => asked === name).plates[0];
    expect(there).toMatchObject({ matte: name, depth: { revision: name } });
    expect(there.depth.near).toBeCloseTo(0.65, 9);
    expect(atMoment(document, 40).plates[0].depth.near).toBe(0.8);
    expect([isCarriedName(name), momentOfName(name)]).toEqual([true, 5]);
  });

  test('that is cut at a frame has a key there; stored it stands at the first', () => {
    const seen = atMoment(document, 5);
    const cut = { ...seen.plates[0], matte: ID(30), depth: { revision: ID(31), near: 0.7, far: 0.5 } };
    const stored = storedMoment(seen, { ...seen, plates: [cut] });
    expect(stored.plates[0].keys.map(({ frame, matte }) => [frame, matte])).toEqual([
      [0, ID(10)],
      [5, ID(30)],
      [20, ID(20)],
    ]);
    expect(stored.plates[0].matte).toBe(ID(10));
  });

  test('is not changed where it has no key', () => {
    const seen = atMoment(document, 5);
    const moved = { ...seen.plates[0], depth: { ...seen.plates[0].depth, near: 0.9 } };
    expect(() => storedMoment(seen, { ...seen, plates: [moved] })).toThrow(/Lantern has no key at frame 6/);
    expect(() => {
      requirePlateKey(atMoment(document, 20), ID(2));
    }).not.toThrow();
  });
});

test('names of what is carried change with what they come from, and with nothing else', () => {
  const [one, other] = [film([key(0, 10), key(20, 20)]), film([key(0, 10), key(20, 30)])];
  // Before the key that changed the plate is the same.
  const before = { ...one.plates[0], keys: [...one.plates[0].keys, key(30, 40)] };
  expect(plateName(ID(1), before, 5)).toBe(plateName(ID(1), one.plates[0], 5));
  expect(plateName(ID(1), other.plates[0], 5)).not.toBe(plateName(ID(1), one.plates[0], 5));
  expect(carriedName(ID(1), depthFrom(one), 7)).not.toBe(carriedName(ID(1), depthFrom(other), 7));
  const filled = {
    ...one,
    footage: { ...one.footage!, fills: [{ frame: 3, fill: ID(50), overpaint: null, strokes: [] }] },
  };
  expect(behindHashes(filled).depth).toBe(behindHashes(one).depth);
  expect(behindHashes(filled).colours).not.toBe(behindHashes(one).colours);
});
