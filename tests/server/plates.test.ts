import { sceneOf } from '@/core/scene/sceneOf';
import { loadRevision, readMap } from '@/server/rasters/revisions';
import { editDepth } from '@/server/shots/depth';
import { moveInHistory, shotState } from '@/server/shots/history';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { PLAIN_EDGE } from '@/core/matte/choice';
import { renderView } from '@/core/view/renderView';
import { loadChoice } from '@/server/shots/choices';
import { database } from '@/server/db/orm';
import { readPlates } from '@/server/media/readPlates';
import { actOnPlates } from '@/server/shots/plates';
import { changeDocument } from '@/server/shots/shots';
import { corkTwin } from '../support/cli';
import { boxChoice, headOf, laidOut, asBefore, scene } from '../support/scene';

const width = 400;
const height = 300;
const stage = scene('Plates');
const { dir } = stage;
const square = boxChoice(100, 80, 220, 200);

/** A shot whose square from 100, 80 to 220, 200 is orange and near, on a bluish far ground. */
function begin(): Promise<string> {
  const inside = (x: number, y: number): boolean => x >= 100 && x < 220 && y >= 80 && y < 200;
  return stage.shot(
    'scene',
    [width, height],
    (x, y) => (inside(x, y) ? [230, 120, 20] : [90, 110, 140]),
    (x, y) => (inside(x, y) ? 52428 : 6553),
  );
}

describe('plates of a stored shot', () => {
  test('planned, cut into it, moved, and undone step by step', async () => {
    const id = await begin();
    const planned = await actOnPlates({ id, expectedHead: await headOf(id) }, { action: 'plan', name: 'Box' });
    const [{ id: plate }] = planned.document.plates;
    expect(planned.document.plates[0]).toMatchObject({ name: 'Box', matte: null, choice: null });
    await expect(
      editDepth(
        { id, expectedHead: planned.head },
        {
          kind: 'polygon',
          points: [
            { x: 0, y: 0 },
            { x: 9, y: 0 },
            { x: 0, y: 9 },
          ],
          depth: 1,
        },
        { plate },
      ),
    ).rejects.toThrow('Box is only planned');

    const cut = await actOnPlates(
      { id, expectedHead: planned.head },
      { action: 'cut', plate, name: 'Box', choice: square, spare: true },
    );
    expect(cut.undo).toBe('Cut Box');
    const [made] = cut.document.plates;
    expect(await loadChoice(await database(), made.choice!)).toEqual(square);
    expect((made.depth.near + made.depth.far) / 2).toBeCloseTo(0.8, 2);
    const matte = await readMap(await database(), await loadRevision(await database(), made.matte!));
    expect(matte.data.filter((v) => v === 65535).length).toBe(120 * 120);

    const moved = await changeDocument({ id, expectedHead: cut.head }, 'Move Box in depth', {
      plates: [{ id: plate, near: 0.3, far: 0.25 }],
    });
    expect(moved.document.plates[0].depth).toMatchObject({ near: 0.3, far: 0.25, revision: made.depth.revision });
    for (const left of [1, 1, 0]) {
      const back = await moveInHistory({ id, expectedHead: await headOf(id) }, 'undo');
      expect(back.document.plates.length).toBe(left);
    }
    await moveInHistory({ id, expectedHead: await headOf(id) }, 'redo');
    expect((await moveInHistory({ id, expectedHead: await headOf(id) }, 'redo')).document.plates[0]).toEqual(made);
  });

  test('a locked plate keeps its depth and its place; another window is told; what does not exist is said', async () => {
    const id = await begin();
    const cut = await actOnPlates(
      { id, expectedHead: await headOf(id) },
      {
        action: 'cut',
        plate: null,
        name: 'Box',
        choice: square,
        spare: true,
      },
    );
    const plate = cut.document.plates[0].id;
    await expect(
      actOnPlates(
        { id, expectedHead: cut.head - 1 },
        { action: 'cut', plate: null, name: 'Late', choice: square, spare: true },
      ),
    ).rejects.toMatchObject({ status: 409, code: 'moved-on' });
    const locked = await changeDocument({ id, expectedHead: cut.head }, 'Lock Box', {
      plates: [{ id: plate, locked: true }],
    });
    const stroke = {
      kind: 'stroke' as const,
      mode: 'set' as const,
      depth: 1,
      size: 30,
      hardness: 1,
      strength: 1,
      pressure: 'none' as const,
      points: [{ x: 150, y: 150, pressure: 1 }],
    };
    await expect(editDepth({ id, expectedHead: locked.head }, stroke, { plate })).rejects.toThrow(
      'Box is locked, so nothing was changed',
    );
    await expect(actOnPlates({ id, expectedHead: locked.head }, { action: 'remove', plate })).rejects.toThrow(
      'Box is locked',
    );
    await expect(
      changeDocument({ id, expectedHead: locked.head }, 'Move', { plates: [{ id: plate, near: 0.4, far: 0.3 }] }),
    ).rejects.toThrow('Box is locked');
    await expect(
      changeDocument({ id, expectedHead: locked.head }, 'Turn', { plates: [{ id: plate, locked: false, near: 0.01 }] }),
    ).rejects.toMatchObject({ status: 422, code: 'span-turned' });
    await expect(
      changeDocument({ id, expectedHead: locked.head }, 'None', {
        plates: [{ id: '7b0c1c52-6f0a-4a53-9d55-0d5a2f3f8a11', hidden: true }],
      }),
    ).rejects.toMatchObject({ status: 404 });
    await expect(
      actOnPlates(
        { id, expectedHead: locked.head },
        {
          action: 'cut',
          plate: '7b0c1c52-6f0a-4a53-9d55-0d5a2f3f8a11',
          name: 'X',
          choice: square,
          spare: true,
        },
      ),
    ).rejects.toMatchObject({ status: 404 });
    const open = await changeDocument({ id, expectedHead: locked.head }, 'Unlock Box', {
      plates: [{ id: plate, locked: false }],
    });
    const painted = await editDepth({ id, expectedHead: open.head }, stroke, { plate });
    expect(painted.document.depth.revision).toBe(open.document.depth.revision);
    expect(painted.document.plates[0].depth.revision).not.toBe(open.document.plates[0].depth.revision);
    expect(
      (await actOnPlates({ id, expectedHead: painted.head }, { action: 'remove', plate })).document.plates,
    ).toEqual([]);
  });

  test('a choice that leaves nothing is refused with its sentence, and nothing is stored', async () => {
    const id = await begin();
    const before = await headOf(id);
    await expect(
      actOnPlates(
        { id, expectedHead: before },
        {
          action: 'cut',
          plate: null,
          name: 'None',
          choice: { ...square, ingredients: [...square.ingredients, { ...square.ingredients[0], way: 'take' }] },
          spare: true,
        },
      ),
    ).rejects.toMatchObject({ code: 'nothing-chosen' });
    expect(await headOf(id)).toBe(before);
  });

  test('handed out as a folder and read back, it renders the same views, also through the command line', async () => {
    const id = await begin();
    const cut = await actOnPlates(
      { id, expectedHead: await headOf(id) },
      {
        action: 'cut',
        plate: null,
        name: 'Orange box',
        choice: { ...square, edge: { ...PLAIN_EDGE, featherPx: 2 } },
        spare: true,
      },
    );
    const out = join(dir, 'handed');
    expect(corkTwin('plates', '--shot', id, '--out', out)).toMatchObject({ status: 0, err: '' });
    const { list, rasters, ids } = await readPlates(out);
    expect(list.plates.map((p) => [p.name, p.picture, p.fill])).toEqual([
      ['Back plate', '00-back-plate-picture.png', '00-back-plate-fill.png'],
      ['Orange box', '01-orange-box-picture.png', null],
    ]);
    const budget = { nearPx: -16, farPx: 8 };
    const document = { ...cut.document, budget };
    const ours = renderView(sceneOf(document), await laidOut({ document }), 0.5).picture;
    const [, box] = list.plates;
    const theirs = renderView(
      sceneOf({
        ...document,
        plates: [{ id: ids[0], matte: ids[0], hidden: false, depth: { near: box.near, far: box.far } }],
      }),
      rasters,
      0.5,
    ).picture;
    expect(
      corkTwin('views', '--plates', out, '--near', '-16', '--far', '8', '--out', join(dir, 'views')),
    ).toMatchObject({ status: 0, err: '' });
    const written = await sharp(join(dir, 'views/right.png')).ensureAlpha().raw().toBuffer();
    let worst = 0;
    for (let i = 0; i < ours.data.length; i++)
      worst = Math.max(worst, Math.abs(ours.data[i] - theirs.data[i]), Math.abs(written[i] - theirs.data[i]));
    expect(worst).toBeLessThanOrEqual(1);
    // Kept holes: straight alpha in the file, so that a soft edge keeps its colour however little it covers.
    expect(
      corkTwin('views', '--plates', out, '--near', '-16', '--far', '8', '--holes', 'keep', '--out', join(dir, 'kept')),
    ).toMatchObject({ status: 0, err: '' });
    const kept = await sharp(join(dir, 'kept/right.png')).raw().toBuffer({ resolveWithObject: true });
    expect(kept.info.channels).toBe(4);
    for (let i = 0; i < kept.data.length; i += 4)
      if (kept.data[i + 3] === 255) expect(Math.abs(kept.data[i] - written[i])).toBeLessThanOrEqual(1);
  }, 120_000);

  test('a folder that is none, or lies, is refused in one line', () => {
    const out = join(dir, 'handed');
    const list = readFileSync(join(out, 'plates.json'), 'utf8');
    const views = (from: string) =>
      corkTwin('views', '--plates', from, '--near', '-1', '--far', '1', '--out', join(dir, 'no'));
    expect(views(dir)).toMatchObject({ status: 1, err: expect.stringContaining('plates.json does not exist') });
    writeFileSync(join(out, 'plates.json'), list.replace('"width": 400', '"width": 401'));
    expect(views(out)).toMatchObject({
      status: 1,
      err: expect.stringContaining('is 400 × 300 px but plates.json says 401 × 300 px'),
    });
    writeFileSync(join(out, 'plates.json'), list.replace('01-orange-box-matte.png', '../../secret.png'));
    expect(views(out)).toMatchObject({
      status: 1,
      err: expect.stringContaining('must be the name of a PNG file in the same folder'),
    });
    expect(corkTwin('plates', '--shot', 'nonsense', '--out', out)).toMatchObject({
      status: 1,
      err: expect.stringContaining('is no shot’s id'),
    });
  });

  test('documents of before plates get an empty list', async () => {
    const id = await begin();
    await asBefore(id, (document) => ({ ...document, plates: undefined }));
    expect((await shotState(id)).document.plates).toEqual([]);
  });
});
