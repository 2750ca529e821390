import { randomUUID } from 'node:crypto';
import type { MarkStroke } from '@/core/depth/marks/markStroke';
import type { DepthMake } from '@/core/depth/makers';
import { DEFAULT_CUES } from '@/core/depth/start/cues';
import type { DepthMap } from '@/core/raster/picture';
import { database } from '@/server/db/orm';
import { query } from '@/server/db/query';
import { loadRevision, readMap } from '@/server/rasters/revisions';
import { extendBorder } from '@/server/shots/border';
import { editDepth, makeDepth } from '@/server/shots/depth';
import { moveInHistory, once, shotState, type ShotState } from '@/server/shots/history';
import { actOnPlates } from '@/server/shots/plates';
import { changeDocument } from '@/server/shots/shots';
import { headOf, scene } from '../support/scene';

const width = 240;
const height = 160;
const stage = scene('Made depth');
/** Green below, blue above. */
const begin = (): Promise<string> =>
  stage.shot('made', [width, height], (x, y) => (y >= height / 2 ? [60, 150 + (x % 5), 60] : [70, 90, 190 + (x % 7)]));
const mark = (y: number, depth: number): MarkStroke => ({
  id: randomUUID(),
  name: '',
  points: [
    { x: 40, y },
    { x: 200, y },
  ],
  width: 8,
  says: { kind: 'depth', depth },
});
const marks = (...list: MarkStroke[]): DepthMake => ({ kind: 'marks', marks: list, by: 'replace' });
const made = async (id: string, make: DepthMake): Promise<ShotState> =>
  makeDepth({ id, expectedHead: await headOf(id) }, make, null);
const mapOf = async ({ document }: ShotState): Promise<DepthMap> => {
  const em = await database();
  return readMap(em, await loadRevision(em, document.depth.revision));
};
const depthAt = async (state: ShotState, x: number, y: number): Promise<number> => {
  const map = await mapOf(state);
  return map.data[y * map.width + x] / 65535;
};

describe('marks', () => {
  test('make the map, are kept, and can be changed; without them the map that they began on comes back', async () => {
    const id = await begin();
    const painted = await editDepth(
      { id, expectedHead: await headOf(id) },
      {
        kind: 'ramp',
        from: { x: 0, y: 0, depth: 0.3 },
        to: { x: width, y: 0, depth: 0.4 },
        reach: 'everywhere',
        against: 'replace',
      },
    );
    const [far, near] = [mark(30, 0.2), mark(130, 0.8)];
    const first = await made(id, marks(far, near));
    expect(first.document.marks).toEqual([
      {
        plate: null,
        base: painted.document.depth.revision,
        made: first.document.depth.revision,
        by: 'replace',
        marks: [far, near],
      },
    ]);
    expect(first.undo).toBe('Depth from 2 marks');
    expect(Math.abs((await depthAt(first, 120, 30)) - 0.2)).toBeLessThan(0.04);
    const second = await made(id, marks(far, { ...near, says: { kind: 'depth', depth: 0.6 } }));
    expect(Math.abs((await depthAt(second, 120, 130)) - 0.6)).toBeLessThan(0.04);
    expect(second.document.marks[0].base).toBe(painted.document.depth.revision);
    const none = await made(id, marks());
    expect(none.document).toMatchObject({ marks: [], depth: { revision: painted.document.depth.revision } });
    const undone = await moveInHistory({ id, expectedHead: none.head }, 'undo');
    expect(undone.document).toEqual(second.document);
  });

  test('leave what was painted between two changes of them where it is, also when all are gone', async () => {
    const id = await begin();
    const before = await shotState(id);
    const [far, near] = [mark(30, 0.2), mark(130, 0.8)];
    await made(id, marks(far, near));
    const box = [
      { x: 100, y: 60 },
      { x: 140, y: 60 },
      { x: 140, y: 100 },
      { x: 100, y: 100 },
    ];
    await editDepth({ id, expectedHead: await headOf(id) }, { kind: 'polygon', points: box, depth: 1 });
    const changed = await made(id, marks(far, { ...near, says: { kind: 'depth', depth: 0.5 } }));
    expect(await depthAt(changed, 120, 80)).toBe(1);
    expect(Math.abs((await depthAt(changed, 120, 130)) - 0.5)).toBeLessThan(0.04);
    expect(changed.document.marks[0].made).not.toBe(changed.document.depth.revision);
    // Once more: the map as it was made is what the next change is held against, not the painted one.
    const again = await made(id, marks(far, near));
    expect(await depthAt(again, 120, 80)).toBe(1);
    expect(Math.abs((await depthAt(again, 120, 130)) - 0.8)).toBeLessThan(0.04);
    const over = await made(id, { kind: 'marks', marks: [far, near], by: 'replace', overPaint: true });
    expect(await depthAt(over, 120, 80)).toBeLessThan(0.9);
    expect(over.document.marks[0].made).toBe(over.document.depth.revision);
    await moveInHistory({ id, expectedHead: over.head }, 'undo');
    const none = await made(id, marks());
    expect(none.document.marks).toEqual([]);
    expect(await depthAt(none, 120, 80)).toBe(1);
    expect(await depthAt(none, 30, 30)).toBe(await depthAt(before, 30, 30));
  });

  test('grow with the canvas, and the map that they began on does too', async () => {
    const id = await begin();
    const first = await made(id, marks(mark(30, 0.2), mark(130, 0.8)));
    const border = { left: 20, top: 10, right: 0, bottom: 0, method: 'mirror', seed: 1 } as const;
    const grown = await extendBorder({ id, expectedHead: first.head }, border);
    expect(grown.document.marks[0].marks[0].points).toEqual([
      { x: 60, y: 40 },
      { x: 220, y: 40 },
    ]);
    const em = await database();
    expect(await loadRevision(em, grown.document.marks[0].base)).toMatchObject({ width: 260, height: 170 });
    const again = await made(id, marks(...grown.document.marks[0].marks));
    expect(Math.abs((await depthAt(again, 140, 40)) - 0.2)).toBeLessThan(0.05);
  });

  test('a history of before, with no marks in it, takes some and goes back over them', async () => {
    const id = await begin();
    const before = await changeDocument({ id, expectedHead: await headOf(id) }, 'Soften tears', { tearPx: 3 });
    const em = await database();
    const without = (column: string): string =>
      `${column} = regexp_replace(${column}::text, '"marks": \\[\\](, )?', '', 'g')::jsonb`;
    for (const column of ['document', 'patch'])
      await query(em, `update history_entry set ${without(column)} where shot_id = $1`, [id]);
    await query(em, `update shot set ${without('document')} where id = $1`, [id]);
    expect((await shotState(id)).document.marks).toEqual([]);
    const next = await made(id, marks(mark(30, 0.2)));
    expect(next.document.marks).toHaveLength(1);
    const undone = await moveInHistory({ id, expectedHead: next.head }, 'undo');
    expect(undone.document).toMatchObject({ marks: [], depth: before.document.depth });
  });

  test('without a depth among them, and of a plate that is not cut, are refused by name', async () => {
    const id = await begin();
    const same: MarkStroke = { ...mark(30, 0), says: { kind: 'same', as: randomUUID() } };
    await expect(made(id, marks(same))).rejects.toMatchObject({ code: 'no-depth-marked' });
    const planned = await actOnPlates({ id, expectedHead: await headOf(id) }, { action: 'plan', name: 'Tree' });
    const [plate] = planned.document.plates;
    await expect(makeDepth({ id, expectedHead: planned.head }, marks(mark(30, 0.5)), plate.id)).rejects.toMatchObject({
      code: 'not-cut',
    });
  });
});

test('a map that was painted on meanwhile is left alone', async () => {
  const id = await begin();
  const at = { id, expectedHead: await headOf(id) };
  const making = makeDepth(at, { kind: 'start', cues: DEFAULT_CUES }, null);
  const polygon = [
    { x: 5, y: 5 },
    { x: 30, y: 5 },
    { x: 5, y: 30 },
  ];
  const painted = editDepth(at, { kind: 'polygon', points: polygon, depth: 1 });
  const [start, paint] = await Promise.allSettled([making, painted]);
  // Whichever is stored first, the other is told that the map has moved on.
  const refused = [start, paint].filter(({ status }) => status === 'rejected') as PromiseRejectedResult[];
  expect(refused).toHaveLength(1);
  expect(refused[0].reason).toMatchObject({ code: 'moved-on' });
});

test('a start and a remap are steps of the history, made once however often they are sent', async () => {
  const id = await begin();
  const at = { id, expectedHead: await headOf(id), changeId: randomUUID() };
  const start = () => once(at, () => makeDepth(at, { kind: 'start', cues: DEFAULT_CUES }, null));
  const first = await start();
  expect(await start()).toEqual(first);
  expect(first.undo).toBe('A start from cues');
  const beads = [
    { from: 0, to: 0 },
    { from: 1, to: 1 },
  ];
  const turned = await made(id, { kind: 'remap', beads, invert: true });
  const [a, b] = [await mapOf(first), await mapOf(turned)];
  for (let i = 0; i < a.data.length; i += 97) expect(Math.abs(a.data[i] + b.data[i] - 65535)).toBeLessThanOrEqual(1);
});
