import { atMoment, nearestKey, storedMoment } from './atMoment';
import { carriedName, depthFrom } from './carriedNames';
import { keysAround } from './keysAround';
import { budgetAt, newDocument, patchDocument, withKeyMoved, type Footage, type ShotDocument } from './document';

const ID = (n: number): string => `7b0c1c52-6f0a-4a53-9d55-0d5a2f3f8a${String(n).padStart(2, '0')}`;
const source = {
  mediaId: ID(1),
  fileName: 'a.mp4',
  width: 960,
  height: 600,
  bits: 8 as const,
  hasAlpha: false,
  told: '',
  moment: 0,
};
const key = (frame: number, revision: string): Footage['keys'][number] => ({
  frame,
  revision,
  marks: [],
  keptDepths: [],
});
const film = (keys: Footage['keys'], script: Footage['script'] = []): ShotDocument => ({
  ...newDocument(source, keys[0].revision),
  footage: {
    frames: 48,
    rate: { numerator: 24, denominator: 1 },
    sound: null,
    range: null,
    keys,
    fills: [],
    script,
    markers: [],
  },
});

describe('a document at a frame', () => {
  const document = film([key(0, ID(10)), key(23, ID(11)), key(47, ID(12))]);

  test('holds that frame’s depth, and finds back to what it was', () => {
    const there = atMoment(document, 23);
    expect(there.source.moment).toBe(23);
    expect(there.depth.revision).toBe(ID(11));
    expect(atMoment(atMoment(there, 47), 0)).toEqual(document);
  });

  test('without a key shows what is carried, or the nearest key’s', () => {
    expect(atMoment(document, 9).depth.revision).toBe(ID(10));
    expect(atMoment(document, 40).depth.revision).toBe(ID(12));
    const name = carriedName(source.mediaId, depthFrom(document), 9);
    expect(atMoment(document, 9, (asked) => asked === name).depth.revision).toBe(name);
    expect(nearestKey(document.footage!, 35).frame).toBe(23);
    expect(keysAround(document.footage!, 23).before?.frame).toBe(23);
    expect(carriedName(source.mediaId, depthFrom(document), 9)).not.toBe(
      carriedName(source.mediaId, depthFrom(film([key(0, ID(10)), key(23, ID(13))])), 9),
    );
  });

  test('is stored at its first frame with what was changed among the keys', () => {
    const seen = atMoment(document, 23);
    const stored = storedMoment(seen, { ...seen, depth: { ...seen.depth, revision: ID(20) } });
    expect(stored.depth.revision).toBe(ID(10));
    expect(stored.footage!.keys.map(({ revision }) => revision)).toEqual([ID(10), ID(20), ID(12)]);
    const between = atMoment(document, 9);
    expect(() => storedMoment(between, { ...between, depth: { ...between.depth, revision: ID(20) } })).toThrow(
      'Frame 10 has no depth of its own',
    );
    expect(storedMoment(between, { ...between, tearPx: 3 }).tearPx).toBe(3);
  });

  test('a still is the same document', () => {
    const still = newDocument({ ...source, moment: undefined }, ID(10));
    expect(atMoment(still, 5)).toBe(still);
    expect(storedMoment(still, still)).toBe(still);
  });
});

describe('a depth script', () => {
  const budget = (nearPx: number, farPx: number): ShotDocument['budget'] => ({ nearPx, farPx });
  const script: Footage['script'] = [
    { frame: 0, ease: 'linear', budget: budget(-10, 10) },
    { frame: 40, ease: 'gentle', budget: budget(-20, 30) },
  ];
  const document = { ...film([key(0, ID(10))], script), budget: budget(-10, 10) };

  test('has a key at another frame as far as its neighbours leave room', () => {
    const frames = (index: number, frame: number): number[] =>
      withKeyMoved(script, index, { frame, frames: 48 }).map((k) => k.frame);
    const [first, second] = script.map((k) => k.frame);
    expect(frames(1, second - 3)).toEqual([first, second - 3]);
    expect(frames(1, -5)).toEqual([first, first + 1]);
    expect(frames(1, 99)).toEqual([first, 47]);
    expect(frames(0, second + 4)).toEqual([second - 1, second]);
    expect(withKeyMoved(script, 1, { frame: 30, frames: 48 })[1].budget).toEqual(script[1].budget);
  });

  test('gives every frame its depth', () => {
    expect(budgetAt(script, 10)).toEqual(budget(-12.5, 15));
    expect(atMoment(document, 20).budget).toEqual(budget(-15, 20));
    expect(atMoment(document, 47).budget).toEqual(budget(-20, 30));
    expect(atMoment(atMoment(document, 20), 0)).toEqual(document);
  });

  test('is keyed where depth is changed, and only there', () => {
    const seen = atMoment(document, 20);
    const stored = storedMoment(seen, patchDocument(seen, { budget: budget(-5, 5) }));
    expect(stored.footage!.script.map(({ frame }) => frame)).toEqual([0, 20, 40]);
    expect(stored.footage!.script[1]).toEqual({ frame: 20, ease: 'linear', budget: budget(-5, 5) });
    expect(stored.budget).toEqual(budget(-10, 10));
    expect(atMoment(stored, 20).budget).toEqual(budget(-5, 5));
  });

  test('a key that is taken off does not come back by the depth that it left', () => {
    const seen = atMoment(document, 40);
    const without = patchDocument(seen, { footage: { script: script.slice(0, 1) } });
    expect(without.budget).toEqual(budget(-10, 10));
    expect(storedMoment(seen, without).footage!.script).toHaveLength(1);
    // Without a script the depth that is there holds for all.
    const none = patchDocument(seen, { footage: { script: [] } });
    expect(storedMoment(seen, none).budget).toEqual(budget(-20, 30));
  });
});
