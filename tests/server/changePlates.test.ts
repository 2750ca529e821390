import { sceneOf } from '@/core/scene/sceneOf';
import { moveInHistory, shotState, type ShotState } from '@/server/shots/history';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { PLAIN_EDGE, type Choice } from '@/core/matte/choice';
import { renderView } from '@/core/view/renderView';
import { database, inTransaction } from '@/server/db/orm';
import { readStoredPicture } from '@/server/rasters/pictures';
import { actOnFill } from '@/server/shots/fills';
import { workOf, stopWork } from '@/server/shots/longWork';
import { placedPiece, storePiece } from '@/server/shots/pieces';
import { storedMatte } from '@/server/shots/carriedRasters';
import { platePixels } from '@/server/shots/platePixels';
import { actOnPlates } from '@/server/shots/plates';
import { platesElsewhere } from '@/server/shots/platesElsewhere';
import { importPlates } from '@/server/shots/platesFiles';
import { changeDocument } from '@/server/shots/shots';
import { boxChoice as box, headOf, laidOut, pixel, scene } from '../support/scene';
import { replaceDepth } from '../support/replaceDepth';

const width = 300;
const height = 200;
const stage = scene('Plates');
const { dir } = stage;

/** A picture of two colours, left and right, with a depth that rises to the right. */
const begin = (): Promise<string> =>
  stage.shot(
    'two',
    [width, height],
    (x) => (x < 150 ? [200, 60, 40] : [40, 90, 200]),
    (x) => (x / (width - 1)) * 65535,
  );
const cut = async (id: string, name: string, choice: Choice, spare = true): Promise<ShotState> =>
  actOnPlates({ id, expectedHead: await headOf(id) }, { action: 'cut', plate: null, name, choice, spare });
const named = (s: ShotState, name: string) => s.document.plates.find((p) => p.name === name)!;
const area = async (revision: string | null): Promise<number> =>
  (await storedMatte(revision!)).data.reduce((a, v) => a + v, 0) / 255;
/** Depth on the ruler of a plate at a place. */
const depthAt = async (s: ShotState, name: string, x: number, y: number): Promise<number> => {
  const p = named(s, name);
  const { depth } = await platePixels(s.document, p);
  return p.depth.far + ((p.depth.near - p.depth.far) * depth.data[y * width + x]) / 65535;
};

describe('plates among each other', () => {
  test('a cut leaves to others what they hold, unless they shall overlap; nothing left is said so', async () => {
    const id = await begin();
    await cut(id, 'First', box(40, 40, 100, 100));
    const second = await cut(id, 'Second', box(70, 40, 130, 100));
    expect(await area(named(second, 'Second').matte)).toBe(60 * 30);
    await expect(cut(id, 'Third', box(50, 50, 60, 60))).rejects.toMatchObject({
      code: 'nothing-chosen',
      message: expect.stringContaining('other plates hold all of it'),
    });
    expect(await area(named(await cut(id, 'Over', box(70, 40, 130, 100), false), 'Over').matte)).toBe(3600);
  });

  test('duplicated it names the same pixels again; split and merged it covers what it did, at the depth it had', async () => {
    const id = await begin();
    const whole = await cut(id, 'Wall', box(40, 40, 240, 160));
    const wall = named(whole, 'Wall');
    const twice = await actOnPlates({ id, expectedHead: whole.head }, { action: 'duplicate', plate: wall.id });
    const copy = named(twice, 'Wall copy');
    expect(copy).toMatchObject({ matte: wall.matte, depth: wall.depth });
    expect(copy.id).not.toBe(wall.id);
    const split = await actOnPlates(
      { id, expectedHead: twice.head },
      {
        action: 'split',
        plate: wall.id,
        name: 'Right half',
        choice: { ...box(150, 0, 300, 200), edge: { ...PLAIN_EDGE, featherPx: 3 } },
      },
    );
    const rest = await storedMatte(named(split, 'Wall').matte!);
    const off = await storedMatte(named(split, 'Right half').matte!);
    const before = await storedMatte(wall.matte!);
    expect(rest.data.map((v, i) => v + off.data[i])).toEqual(before.data);
    expect(off.data[100 * width + 200]).toBe(255);
    expect(await depthAt(split, 'Right half', 200, 100)).toBeCloseTo(200 / 299, 3);
    const merged = await actOnPlates(
      { id, expectedHead: split.head },
      {
        action: 'merge',
        plate: wall.id,
        other: named(split, 'Right half').id,
      },
    );
    expect(merged.document.plates.map((p) => p.name)).toEqual(['Wall', 'Wall copy']);
    expect((await storedMatte(named(merged, 'Wall').matte!)).data).toEqual(before.data);
    for (const x of [60, 149, 151, 220])
      expect(Math.abs((await depthAt(merged, 'Wall', x, 100)) - x / 299)).toBeLessThan(2e-3);
  });

  test('what cannot be split, merged or matched says why, and nothing changes', async () => {
    const id = await begin();
    const wall = await cut(id, 'Wall', box(40, 40, 120, 120));
    const plate = named(wall, 'Wall').id;
    const planned = await actOnPlates({ id, expectedHead: wall.head }, { action: 'plan', name: 'Later' });
    const later = named(planned, 'Later').id;
    const act = (action: Parameters<typeof actOnPlates>[1]) => actOnPlates({ id, expectedHead: planned.head }, action);
    await expect(act({ action: 'split', plate, name: 'x', choice: box(200, 10, 250, 60) })).rejects.toMatchObject({
      code: 'nothing-taken',
    });
    await expect(act({ action: 'split', plate, name: 'x', choice: box(0, 0, 300, 200) })).rejects.toMatchObject({
      code: 'all-taken',
    });
    await expect(act({ action: 'merge', plate, other: later })).rejects.toThrow('Later is only planned');
    await expect(act({ action: 'merge', plate, other: plate })).rejects.toMatchObject({ code: 'one-plate' });
    await expect(act({ action: 'match', plate })).rejects.toMatchObject({ code: 'not-brought-in' });
    expect(await headOf(id)).toBe(planned.head);
    const locked = await changeDocument({ id, expectedHead: planned.head }, 'Lock', {
      plates: [{ id: plate, locked: true }],
    });
    await expect(
      actOnPlates({ id, expectedHead: locked.head }, { action: 'split', plate, name: 'x', choice: box(0, 0, 80, 200) }),
    ).rejects.toMatchObject({ code: 'plate-locked' });
  });

  test('merged, what was painted on both goes on', async () => {
    const id = await begin();
    const first = await cut(id, 'Wall', box(40, 40, 120, 160));
    const second = await cut(id, 'Side', box(160, 40, 240, 160));
    const [wall, side] = [named(first, 'Wall').id, named(second, 'Side').id];
    const dot = (x: number) => ({
      kind: 'clone' as const,
      size: 12,
      hardness: 1,
      strength: 1,
      points: [{ x, y: 100 }],
      sources: [{ dx: x < 150 ? 120 : -120, dy: 0 }],
      scale: 1,
      turn: 0,
      flip: false,
      jitter: 0,
      seed: 1,
      seamless: false,
      beyond: true,
    });
    const behindSide = await actOnFill(
      { id, expectedHead: second.head },
      { action: 'edit', plate: side, edit: dot(200) },
    );
    const only = await actOnPlates(
      { id, expectedHead: behindSide.head },
      { action: 'merge', plate: wall, other: side },
    );
    expect(named(only, 'Wall').overpaint).toBe(behindSide.document.plates.find((p) => p.id === side)!.overpaint);
    const back = await moveInHistory({ id, expectedHead: only.head }, 'undo');
    const two = await actOnFill({ id, expectedHead: back.head }, { action: 'edit', plate: wall, edit: dot(80) });
    const merged = await actOnPlates({ id, expectedHead: two.head }, { action: 'merge', plate: wall, other: side });
    const painted = await readStoredPicture(await database(), named(merged, 'Wall').overpaint!, 8);
    expect([80, 200, 140].map((x) => pixel(painted, x, 100, 4)[3])).toEqual([255, 255, 0]);
    const {
      plates: [laid],
    } = await laidOut(merged);
    const was = (await laidOut(two)).plates;
    for (const [x, plateId] of [
      [80, wall],
      [200, side],
    ] as const)
      expect(pixel(laid.picture, x, 100 - laid.top)).toEqual(
        pixel(was.find((p) => p.id === plateId)!.picture, x, 100 - was.find((p) => p.id === plateId)!.top),
      );
  });

  test('a group is kept with the plates', async () => {
    const id = await begin();
    const s = await cut(id, 'Wall', box(40, 40, 120, 120));
    const grouped = await changeDocument({ id, expectedHead: s.head }, 'Group', {
      plates: [{ id: named(s, 'Wall').id, group: 'House' }],
    });
    expect(named(grouped, 'Wall').group).toBe('House');
  });

  test('a long cut tells how far it is and can be stopped, changing nothing', async () => {
    const id = await begin();
    const { head } = await shotState(id);
    const noisy: Choice = { ...box(20, 20, 280, 180), edge: { ...PLAIN_EDGE, solvePx: 300 } };
    const running = actOnPlates(
      { id, expectedHead: head },
      { action: 'cut', plate: null, name: 'Slow', choice: noisy, spare: true },
    );
    const refused = expect(running).rejects.toMatchObject({
      code: 'stopped',
      message: 'Cutting Slow was stopped, so nothing was changed.',
    });
    for (let n = 0; n < 200 && workOf(id) === null; n++) await new Promise((r) => setTimeout(r, 5));
    expect(workOf(id)).toMatchObject({ name: 'Slow' });
    await expect(cut(id, 'Other', box(1, 1, 50, 50))).rejects.toMatchObject({ code: 'busy' });
    stopWork(id);
    await refused;
    expect(workOf(id)).toBeNull();
    expect(await headOf(id)).toBe(head);
  });
});

describe('plates brought in', () => {
  const green = (name: string): Promise<string> => stage.file(name, 40, 20, '#14dc3c');

  test('a picture becomes a plate in the middle; moved, its matte and its depth travel along; the source’s own view shows it', async () => {
    const id = await begin();
    const came = await importPlates(
      { id, expectedHead: await headOf(id) },
      { path: await green('leaf.png'), fileName: 'leaf.png', zip: false },
    );
    const leaf = came.document.plates[0];
    expect(leaf).toMatchObject({
      name: 'leaf',
      choice: null,
      piece: { width: 40, height: 20, placement: { x: 150, y: 100, scale: 1 } },
    });
    expect(await area(leaf.matte)).toBe(800);
    const sloped = await replaceDepth(
      { id, expectedHead: came.head },
      'Slope',
      { width, height, data: Uint16Array.from({ length: width * height }, (_, i) => (i % width) * 100) },
      leaf.id,
    );
    const moved = await changeDocument({ id, expectedHead: sloped.head }, 'Place', {
      plates: [{ id: leaf.id, placement: { ...leaf.piece!.placement, x: 80, y: 60, scale: 2 } }],
    });
    expect(await area(moved.document.plates[0].matte)).toBeCloseTo(3200, -1.5);
    const { depth } = await platePixels(moved.document, moved.document.plates[0]);
    // 10 px right of the middle, doubled, lies 20 px right of the new middle.
    expect(Math.abs(depth.data[60 * width + 100] - 160 * 100)).toBeLessThan(60);
    const rasters = await laidOut(moved);
    const { picture } = renderView(sceneOf(moved.document), rasters, 0);
    expect(pixel(picture, 80, 60)).toEqual([20, 220, 60]);
    expect(pixel(picture, 150, 100)).toEqual([40, 90, 200]);
    expect(rasters.hole).toBeUndefined();
    await expect(
      actOnPlates(
        { id, expectedHead: moved.head },
        {
          action: 'cut',
          plate: leaf.id,
          name: 'leaf',
          choice: box(1, 1, 40, 40),
          spare: true,
        },
      ),
    ).rejects.toMatchObject({ code: 'brought-in' });
  });

  test('its colours are matched to what lies around it, by as much as is asked', async () => {
    const id = await begin();
    const came = await importPlates(
      { id, expectedHead: await headOf(id) },
      { path: await green('leaf.png'), fileName: 'leaf.png', zip: false },
    );
    const { piece, id: plate } = came.document.plates[0];
    await changeDocument({ id, expectedHead: came.head }, 'Place', {
      plates: [{ id: plate, placement: { ...piece!.placement, x: 60, y: 100 } }],
    });
    const matched = await actOnPlates({ id, expectedHead: await headOf(id) }, { action: 'match', plate });
    const colour = async (s: ShotState): Promise<number[]> =>
      pixel(await placedPiece(s.document.plates[0].piece!, s.document.source), 60, 100);
    expect(await colour(matched)).toEqual([200, 60, 40]);
    const half = await changeDocument({ id, expectedHead: matched.head }, 'Half', {
      plates: [{ id: plate, match: { ...matched.document.plates[0].piece!.match!, strength: 0.5 } }],
    });
    expect(await colour(half)).toEqual([110, 140, 50]);
  });

  test('a plate of another shot comes with its colours and its depth', async () => {
    const from = await begin();
    const to = await begin();
    const there = await cut(from, 'Pane', box(160, 50, 220, 110));
    const listed = await platesElsewhere(to);
    expect(listed.find((s) => s.id === from)).toMatchObject({ plates: [{ name: 'Pane' }] });
    expect(listed.some((s) => s.id === to)).toBe(false);
    const here = await actOnPlates(
      { id: to, expectedHead: (await shotState(to)).head },
      {
        action: 'bring',
        shot: from,
        plate: there.document.plates[0].id,
      },
    );
    expect(here.document.plates[0]).toMatchObject({
      name: 'Pane',
      depth: { near: there.document.plates[0].depth.near, far: there.document.plates[0].depth.far },
      piece: { width: 60, height: 60, placement: { x: 150, y: 100 } },
    });
    expect(pixel(await placedPiece(here.document.plates[0].piece!, here.document.source), 150, 100, 4)).toEqual([
      40, 90, 200, 255,
    ]);
    // 170 px there lies 20 px left of its middle.
    expect(await depthAt(here, 'Pane', 130, 100)).toBeCloseTo(170 / 299, 2);
  });

  test('merged with a plate of the picture, both keep their colours', async () => {
    const id = await begin();
    const came = await importPlates(
      { id, expectedHead: (await cut(id, 'Wall', box(100, 80, 200, 120))).head },
      { path: await green('leaf.png'), fileName: 'leaf.png', zip: false },
    );
    const merged = await actOnPlates(
      { id, expectedHead: came.head },
      {
        action: 'merge',
        plate: named(came, 'Wall').id,
        other: named(came, 'leaf').id,
      },
    );
    expect(merged.document.plates).toHaveLength(1);
    const picture = await placedPiece(merged.document.plates[0].piece!, merged.document.source);
    const at = (x: number, y: number): number[] => pixel(picture, x, y, 4);
    expect([at(150, 100), at(110, 100), at(190, 85), at(10, 10)]).toEqual([
      [20, 220, 60, 255],
      [200, 60, 40, 255],
      [40, 90, 200, 255],
      [0, 0, 0, 0],
    ]);
  });

  test('a damaged picture is refused by name and nothing is stored', async () => {
    const path = join(dir, 'cut.png');
    writeFileSync(path, readFileSync(await green('whole.png')).subarray(0, 90));
    await expect(
      inTransaction((em) => storePiece(em, path, 'cut.png', { source: { width, height } })),
    ).rejects.toMatchObject({
      code: 'cut-off',
      message: expect.stringContaining('cut.png'),
    });
  });
});
