import { applyEdit } from '@/server/rasters/edits';
import { loadRevision, readMap, readWindow, storeMap } from '@/server/rasters/revisions';
import { editDepth } from '@/server/shots/depth';
import { moveInHistory, shotState } from '@/server/shots/history';
import { applyDepthEdit, type DepthEdit } from '@/core/depth/edits';
import type { Rect } from '@/core/raster/geometry';
import { takeRect } from '@/core/raster/rows';
import { join } from 'node:path';
import sharp from 'sharp';
import { database } from '@/server/db/orm';
import { query } from '@/server/db/query';
import { readDepthFile } from '@/server/media/depthFile';
import { mediaInfo, readMedia } from '@/server/media/store';
import { bringIn } from '@/server/shots/bringIn';
import { changeEntry, createProject, desk } from '@/server/shots/desk';
import { changeDocument } from '@/server/shots/shots';
import { inTransaction } from '@/server/db/orm';
import { seedDemo } from '@/demo/seed';
import { ROOT, scratch } from '../support/cli';
import { houseOfTest } from '../support/house';

let house: Awaited<ReturnType<typeof houseOfTest>>;
let project: string;
let path: string;
const dir = scratch();

beforeAll(async () => {
  house = await houseOfTest();
  project = await createProject('Test');
  path = join(dir, 'picture.png');
  await sharp({ create: { width: 700, height: 300, channels: 3, background: '#3a7' } })
    .png()
    .toFile(path);
});
afterAll(async () => {
  await house.end();
});

const stroke = (x: number, depth: number): DepthEdit => ({
  kind: 'stroke',
  mode: 'set',
  depth,
  size: 40,
  hardness: 1,
  strength: 1,
  pressure: 'none',
  points: [{ x, y: 150, pressure: 1 }],
});
const depthAt = async (id: string, x: number, y: number): Promise<number> => {
  const em = await database();
  const { document } = await shotState(id);
  return (
    await readWindow(em, await loadRevision(em, document.depth.revision), {
      left: x,
      top: y,
      right: x + 1,
      bottom: y + 1,
    })
  ).data[0];
};

describe('rasters', () => {
  test('a map of odd size comes back as it went in, whole and in windows across tiles', async () => {
    const map = { width: 517, height: 300, data: Uint16Array.from({ length: 517 * 300 }, (_, i) => (i * 31) & 65535) };
    const revision = await inTransaction((em) => storeMap(em, map));
    const em = await database();
    const loaded = await loadRevision(em, revision.id);
    expect(Buffer.from((await readMap(em, loaded)).data.buffer).equals(Buffer.from(map.data.buffer))).toBe(true);
    const part = await readWindow(em, loaded, { left: 250, top: 240, right: 515, bottom: 270 });
    for (let y = 0; y < 30; y++)
      expect([...part.data.slice(y * 265, y * 265 + 265)]).toEqual([
        ...map.data.slice((y + 240) * 517 + 250, (y + 240) * 517 + 515),
      ]);
  });

  const path3 = [10, 240, 500].map((x, n) => ({ x, y: 40 + 110 * n, pressure: 0.3 + 0.3 * n }));
  const edits: readonly DepthEdit[] = [
    { ...(stroke(0, 0.9) as DepthEdit & { kind: 'stroke' }), hardness: 0.3, pressure: 'size', points: path3 },
    { ...(stroke(0, 0.9) as DepthEdit & { kind: 'stroke' }), mode: 'smooth', size: 90, points: path3 },
    { ...(stroke(0, 0.9) as DepthEdit & { kind: 'stroke' }), mode: 'push', size: 90, points: path3 },
    { ...(stroke(0, 0.9) as DepthEdit & { kind: 'stroke' }), edge: 30, size: 90, points: path3 },
    { kind: 'polygon', points: path3, depth: 0.4 },
    {
      kind: 'ramp',
      from: { x: 20, y: 10, depth: 0.1 },
      to: { x: 480, y: 280, depth: 0.8 },
      reach: 'between',
      against: 'farther',
    },
  ];
  test.each(edits)('an edit across tiles gives what it gives on the whole map: $kind', async (edit) => {
    const map = { width: 517, height: 300, data: Uint16Array.from({ length: 517 * 300 }, (_, i) => (i * 31) & 65535) };
    const all = Uint8Array.from({ length: 517 * 300 * 4 }, (_, i) => ((i >> 2) % 517 > 250 ? 200 : 90) + (i % 3));
    const colours = ({ left, top, right, bottom }: Rect): Promise<Uint8Array> => {
      const part = new Uint8Array((right - left) * (bottom - top) * 4);
      takeRect(all, part, { left, top, right, bottom }, { width: 517, samples: 4 });
      return Promise.resolve(part);
    };
    const edited = await inTransaction(async (em) =>
      readMap(em, await applyEdit(em, await storeMap(em, map), edit, colours)),
    );
    const whole = { ...map, data: map.data.slice(), left: 0, top: 0, scale: 1, colours: all };
    applyDepthEdit(whole, edit);
    const bytes = ({ data }: { readonly data: Uint16Array }): Buffer => Buffer.from(data.buffer);
    expect(bytes(whole).equals(bytes(map))).toBe(false);
    expect(bytes(edited).equals(bytes(whole))).toBe(true);
  });

  test('equal tiles are stored once, and a stroke stores only what it touches', async () => {
    const em = await database();
    const count = async (): Promise<number> =>
      Number((await query<{ n: string }>(em, 'select count(*) as n from tile'))[0].n);
    const id = await bringIn(project, path, 'flat.png');
    const before = await count();
    const s = await shotState(id);
    await editDepth({ id, expectedHead: s.head }, stroke(100, 0.9));
    expect((await count()) - before).toBe(1);
    await bringIn(project, path, 'again.png');
    expect((await count()) - before).toBe(1);
  });
});

describe('history', () => {
  test('undo and redo give back exactly what was there, and survive in the database', async () => {
    const id = await bringIn(project, path, 'history.png');
    const start = await shotState(id);
    const flat = await depthAt(id, 100, 150);
    const painted = await editDepth({ id, expectedHead: start.head }, stroke(100, 0.9));
    const two = await changeDocument({ id, expectedHead: painted.head }, 'Budget', {
      budget: { nearPx: -3, farPx: 5 },
    });
    expect(two).toMatchObject({ undo: 'Budget', redo: null, document: { budget: { nearPx: -3, farPx: 5 } } });
    expect(await depthAt(id, 100, 150)).toBe(Math.round(0.9 * 65535));
    const back = await moveInHistory({ id, expectedHead: two.head }, 'undo');
    expect(back).toMatchObject({ undo: 'Set depth 0.90', redo: 'Budget', document: { budget: start.document.budget } });
    const first = await moveInHistory({ id, expectedHead: back.head }, 'undo');
    expect(await depthAt(id, 100, 150)).toBe(flat);
    expect(first.document).toEqual(start.document);
    await expect(moveInHistory({ id, expectedHead: first.head }, 'undo')).rejects.toThrow('this is how the shot began');
    const between = await moveInHistory({ id, expectedHead: first.head }, 'redo');
    const forth = await moveInHistory({ id, expectedHead: between.head }, 'redo');
    expect(forth.document).toEqual(two.document);
  });

  test('a change after an undo goes its own way; redo follows the newest', async () => {
    const id = await bringIn(project, path, 'branch.png');
    const start = await shotState(id);
    const first = await changeDocument({ id, expectedHead: start.head }, 'One', { tearPx: 3 });
    const back = await moveInHistory({ id, expectedHead: first.head }, 'undo');
    const other = await changeDocument({ id, expectedHead: back.head }, 'Other', { tearPx: 7 });
    const again = await moveInHistory({ id, expectedHead: other.head }, 'undo');
    expect(again.redo).toBe('Other');
    expect((await moveInHistory({ id, expectedHead: again.head }, 'redo')).document.tearPx).toBe(7);
    // What was left behind is still stored.
    const em = await database();
    expect(await query(em, 'select label from history_entry where shot_id = $1 order by id', [id])).toHaveLength(3);
  });

  test('of two windows that change the same state at once, one is told and nothing is overwritten', async () => {
    const id = await bringIn(project, path, 'two.png');
    const { head } = await shotState(id);
    const both = await Promise.allSettled([
      editDepth({ id, expectedHead: head }, stroke(200, 0.2)),
      editDepth({ id, expectedHead: head }, stroke(500, 0.8)),
    ]);
    expect(both.map((b) => b.status).sort()).toEqual(['fulfilled', 'rejected']);
    expect((both.find((b) => b.status === 'rejected') as PromiseRejectedResult).reason).toMatchObject({
      status: 409,
      code: 'moved-on',
    });
    await expect(changeDocument({ id, expectedHead: head }, 'Late', { tearPx: 9 })).rejects.toMatchObject({
      status: 409,
    });
    await expect(moveInHistory({ id, expectedHead: head }, 'undo')).rejects.toMatchObject({ status: 409 });
  });

  test('a stroke beside the picture says so and stores nothing', async () => {
    const id = await bringIn(project, path, 'missed.png');
    const { head } = await shotState(id);
    await expect(editDepth({ id, expectedHead: head }, stroke(5000, 0.5))).rejects.toThrow('lies outside the picture');
    expect((await shotState(id)).head).toBe(head);
  });

  test('a ramp over many tile rows is the same as in one piece', async () => {
    const id = await bringIn(project, path, 'ramp.png');
    const { head } = await shotState(id);
    await editDepth(
      { id, expectedHead: head },
      {
        kind: 'ramp',
        from: { x: 0, y: 0, depth: 0 },
        to: { x: 0, y: 300, depth: 1 },
        reach: 'everywhere',
        against: 'replace',
      },
    );
    for (const y of [0, 100, 255, 256, 299])
      expect(await depthAt(id, 650, y)).toBe(Math.round(((y + 0.5) / 300) * 65535));
  });
});

describe('what comes in', () => {
  test('is kept byte for byte and streamed back in ranges', async () => {
    const id = await bringIn(project, join(ROOT, 'demo/orangery/centre.png'), 'centre.png');
    const {
      document: { source },
    } = await shotState(id);
    const { readFileSync } = await import('node:fs');
    const original = readFileSync(join(ROOT, 'demo/orangery/centre.png'));
    const info = await mediaInfo(source.mediaId);
    expect(info.size).toBe(original.length);
    const read = async (from: number, to: number): Promise<Buffer> => {
      const parts: Buffer[] = [];
      for await (const p of readMedia(source.mediaId, from, to)) parts.push(p as Buffer);
      return Buffer.concat(parts);
    };
    expect((await read(0, info.size)).equals(original)).toBe(true);
    expect((await read(1_048_570, 1_048_590)).equals(original.subarray(1_048_570, 1_048_590))).toBe(true);
  });

  test('a project put away keeps its shots and comes back', async () => {
    const other = await createProject('Other');
    const id = await bringIn(other, path, 'kept.png');
    await changeEntry('project', other, { putAway: true });
    expect((await desk()).projects.map((p) => p.id)).not.toContain(other);
    await expect(bringIn(other, path, 'late.png')).rejects.toThrow('This project does not exist');
    await changeEntry('project', other, { putAway: false, name: 'Renamed' });
    expect((await desk()).projects.find((p) => p.id === other)).toMatchObject({ name: 'Renamed', shots: [{ id }] });
  });

  test('the demo is hung only in an empty house, with its exact depth', async () => {
    expect(await seedDemo(ROOT)).toBe(false);
    const map = await readDepthFile(join(ROOT, 'demo/orangery/depth16.png'), 'depth16.png', {
      whiteIsNear: true,
      mend: false,
    });
    expect([map.width, map.height]).toEqual([1600, 1000]);
  });
});
