import { newDocument, patchDocument, type Plate, type ShotDocument } from '../shot/document';
import { drawnOf, sceneOf, withPlates } from './sceneOf';

const ids = ['0f8fad5b-d9cb-469f-a165-70867728950e', '7c9e6679-7425-40de-944b-e07fc1f90ae7'] as const;
const source = {
  mediaId: ids[0],
  width: 1200,
  height: 800,
  bits: 8,
  fileName: 'a.png',
} as unknown as ShotDocument['source'];
const plate = (id: string, near: number, more: Partial<Plate> = {}): Plate =>
  ({
    id,
    name: 'Box',
    matte: id,
    choice: null,
    hidden: false,
    locked: false,
    tearPx: null,
    tearSoftPx: null,
    piece: null,
    depth: { revision: id, near, far: near - 0.1 },
    ...more,
  }) as unknown as Plate;
const document = (plates: readonly Plate[]): ShotDocument => ({ ...newDocument(source, ids[0]), plates: [...plates] });

describe('the scene of a document', () => {
  test('has its plates from far to near, without those that are only planned', () => {
    const scene = sceneOf(document([plate(ids[0], 0.9), plate(ids[1], 0.4), plate('planned', 0.6, { matte: null })]));
    expect(scene.plates.map((p) => p.id)).toEqual([ids[1], ids[0]]);
    expect(
      drawnOf(sceneOf(document([plate(ids[0], 0.9, { hidden: true }), plate(ids[1], 0.4)]))).map((p) => p.id),
    ).toEqual([ids[1]]);
  });

  test('gives each surface its own tear limit, or the shot’s', () => {
    const shot = { ...document([plate(ids[0], 0.9, { tearPx: 7 }), plate(ids[1], 0.4)]), tearPx: 3 };
    expect(sceneOf(shot).plates.map((p) => p.tearPx)).toEqual([3, 7]);
    expect(sceneOf(shot).back.tearPx).toBe(3);
  });

  test('is of one version exactly where its numbers are the same', () => {
    const shot = document([plate(ids[0], 0.9)]);
    const { version, layout } = sceneOf(shot);
    const named = { ...shot, plates: shot.plates.map((p) => ({ ...p, name: 'Lantern', locked: true })) };
    expect(sceneOf(named)).toMatchObject({ version, layout });
    const changed: readonly ShotDocument[] = [
      patchDocument(shot, { budget: { nearPx: -3, farPx: 5 } }),
      patchDocument(shot, { tearPx: 9 }),
      { ...shot, swapEyes: !shot.swapEyes },
      { ...shot, source: { ...source, width: 1201 } },
      { ...shot, depth: { ...shot.depth, near: 0.95 } },
      document([plate(ids[0], 0.91)]),
      document([plate(ids[0], 0.9, { hidden: true })]),
      document([plate(ids[0], 0.9), plate(ids[1], 0.4)]),
    ];
    const versions = new Set([version, ...changed.map((d) => sceneOf(d).version)]);
    expect(versions.size).toBe(changed.length + 1);
  });

  test('is laid out anew only where plates come, go, change their order or their pieces', () => {
    const two = document([plate(ids[0], 0.9), plate(ids[1], 0.4)]);
    const { layout } = sceneOf(two);
    expect(sceneOf(patchDocument(two, { budget: { nearPx: -3, farPx: 5 } })).layout).toBe(layout);
    expect(sceneOf(document([plate(ids[0], 0.8), plate(ids[1], 0.4)])).layout).toBe(layout);
    expect(sceneOf(document([plate(ids[0], 0.9)])).layout).not.toBe(layout);
    expect(sceneOf(document([plate(ids[0], 0.3), plate(ids[1], 0.9)])).layout).not.toBe(layout);
  });

  test('with other plates is another scene, and the same where they are the same', () => {
    const scene = sceneOf(document([plate(ids[0], 0.9), plate(ids[1], 0.4)]));
    const fewer = withPlates(scene, scene.plates.slice(1));
    expect(fewer.version).not.toBe(scene.version);
    expect(fewer.layout).not.toBe(scene.layout);
    expect(withPlates(scene, scene.plates.slice(1)).version).toBe(fewer.version);
  });
});
