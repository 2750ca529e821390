import { randomUUID } from 'node:crypto';
import sharp from 'sharp';
import { GET as picture } from '@/app/api/shots/[id]/picture/route';
import { PLAIN_EDGE, type Choice } from '@/core/matte/choice';
import type { DepthEdit } from '@/core/depth/edits';
import { database } from '@/server/db/orm';
import { query } from '@/server/db/query';
import { asProblem } from '@/server/http/problem';
import { loadRevision, readMap } from '@/server/rasters/revisions';
import { extendBorder } from '@/server/shots/border';
import { editDepth } from '@/server/shots/depth';
import { moveInHistory, once, shotState, type ShotAt, type ShotState } from '@/server/shots/history';
import { actOnPlates } from '@/server/shots/plates';
import { changeDocument } from '@/server/shots/shots';
import { Refusal } from '@/studio/api';
import { OperationQueue } from '@/studio/room/operations';
import { boxChoice, headOf, scene } from '../support/scene';

const width = 400;
const height = 300;
const stage = scene('Changes');
const begin = (name = 'changes'): Promise<string> => stage.shot(name, [width, height], () => [90, 110, 140]);

/** One pixel set to one depth. */
const dot = (x: number, y: number, depth: number): DepthEdit => ({
  kind: 'polygon',
  points: [
    { x, y },
    { x: x + 1, y },
    { x: x + 1, y: y + 1 },
    { x, y: y + 1 },
  ],
  depth,
});

const entries = async (id: string): Promise<number> =>
  (await query(await database(), 'select id from history_entry where shot_id = $1', [id])).length;

describe('a change that is sent again', () => {
  /** Each sort of change, as a function of where it is made. */
  const sorts: readonly [string, (at: ShotAt) => Promise<ShotState>][] = [
    ['a change of the document', (at) => changeDocument(at, 'Soften tears', { tearPx: 3 })],
    ['a stroke', (at) => editDepth(at, dot(20, 20, 1))],
    ['a plate', (at) => actOnPlates(at, { action: 'plan', name: 'Back' })],
    ['an undo', (at) => moveInHistory(at, 'undo')],
  ];

  test.each(sorts)('%s is stored once and answers as the first time', async (_name, change) => {
    const id = await begin();
    const before = await changeDocument({ id, expectedHead: await headOf(id) }, 'Budget', {
      budget: { nearPx: -3, farPx: 5 },
    });
    const at: ShotAt = { id, expectedHead: before.head, changeId: randomUUID() };
    const first = await once(at, () => change(at));
    const stored = await entries(id);
    expect(await once(at, () => change(at))).toEqual(first);
    expect(await entries(id)).toBe(stored);
    expect(await shotState(id)).toMatchObject({ head: first.head, document: first.document });
  });

  test('also after others have changed the shot, and while the first time is still under way', async () => {
    const id = await begin();
    const at: ShotAt = { id, expectedHead: await headOf(id), changeId: randomUUID() };
    const change = (): Promise<ShotState> => editDepth(at, dot(20, 20, 1));
    const [first, meanwhile] = await Promise.all([once(at, change), once(at, change)]);
    expect(meanwhile).toEqual(first);
    const other = await changeDocument({ id, expectedHead: first.head }, 'Soften tears', { tearPx: 4 });
    const again = await once(at, change);
    expect(again).toMatchObject({ head: first.head, document: first.document, undo: first.undo });
    expect(await headOf(id)).toBe(other.head);
    expect(await entries(id)).toBe(3);
  });

  test('one that was refused is not remembered, and an id means one shot only', async () => {
    const id = await begin();
    const other = await begin('other');
    const at: ShotAt = { id, expectedHead: await headOf(id), changeId: randomUUID() };
    await expect(once(at, () => editDepth(at, dot(width + 50, 20, 1)))).rejects.toThrow('outside the picture');
    const first = await once(at, () => editDepth(at, dot(20, 20, 1)));
    expect(first.head).toBe(await headOf(id));
    const elsewhere: ShotAt = { id: other, expectedHead: (await headOf(other)) - 1, changeId: at.changeId! };
    await expect(once(elsewhere, () => editDepth(elsewhere, dot(20, 20, 1)))).rejects.toMatchObject({
      code: 'moved-on',
    });
  });
});

/** A page at work on a shot: its queue, without network; what is refused is kept by name. */
function page(id: string, head: number) {
  const refused: string[] = [];
  let rest: () => void = () => undefined;
  const queue = new OperationQueue(head, {
    stored: () => undefined,
    stopped: () => undefined,
    refused: (error, { label }) => refused.push(`${label}: ${error.message}`),
    storing: (state) => {
      if (state === 'stored') rest();
    },
  });
  return {
    refused,
    rested: () =>
      new Promise<void>((done) => {
        rest = done;
      }),
    push: (label: string, change: (at: ShotAt) => Promise<ShotState>) => {
      queue.push({
        label,
        says: label,
        send: async (at) => {
          const here: ShotAt = { id, ...at };
          try {
            return await once(here, () => change(here));
          } catch (error) {
            const { status, code, message, more } = asProblem(error);
            throw new Refusal(status, code, message, more.head as number | undefined);
          }
        },
      });
    },
  };
}

describe('two pages on one shot', () => {
  async function cutTwo(): Promise<{ id: string; head: number; plates: string[] }> {
    const id = await begin();
    for (const [name, left] of [
      ['Left', 20],
      ['Right', 220],
    ] as const)
      await actOnPlates(
        { id, expectedHead: await headOf(id) },
        { action: 'cut', plate: null, name, choice: boxChoice(left, 40, left + 160, 260), spare: true },
      );
    const { head, document } = await shotState(id);
    return { id, head, plates: document.plates.map((p) => p.id) };
  }

  test('that paint 200 strokes each on two plates lose none', async () => {
    const STROKES = 200;
    const { id, head, plates } = await cutTwo();
    const pages = plates.map(() => page(id, head));
    const rested = Promise.all(pages.map((p) => p.rested()));
    const depthOf = (n: number): number => n / STROKES;
    const placeOf = (which: number, n: number): readonly [number, number] => [
      (which === 0 ? 30 : 230) + (n % 20) * 5,
      50 + Math.floor(n / 20) * 5,
    ];
    for (let n = 0; n < STROKES; n++)
      pages.forEach((p, which) => {
        const plate = plates[which];
        p.push(`${which} ${n}`, (at) => editDepth(at, dot(...placeOf(which, n), depthOf(n)), { plate }));
      });
    await rested;
    expect(pages.map((p) => p.refused)).toEqual([[], []]);
    const em = await database();
    const { document } = await shotState(id);
    for (const [which, plate] of document.plates.entries()) {
      const map = await readMap(em, await loadRevision(em, plate.depth.revision!));
      const found = Array.from({ length: STROKES }, (_, n) => {
        const [x, y] = placeOf(which, n);
        return map.data[y * width + x];
      });
      expect(found).toEqual(Array.from({ length: STROKES }, (_, n) => Math.round(depthOf(n) * 65535)));
    }
    // A planned start, two plates, and every stroke an entry of its own.
    expect(await entries(id)).toBe(1 + 2 + 2 * STROKES);
  });

  test('only what is painted on a plate that the other page took away is refused, by name', async () => {
    const { id, head, plates } = await cutTwo();
    await actOnPlates({ id, expectedHead: head }, { action: 'remove', plate: plates[0] });
    const late = page(id, head);
    const rested = late.rested();
    late.push('on Left', (at) => editDepth(at, dot(30, 50, 1), { plate: plates[0] }));
    late.push('on Right', (at) => editDepth(at, dot(230, 50, 1), { plate: plates[1] }));
    late.push('on all', (at) => editDepth(at, dot(5, 5, 1)));
    await rested;
    expect(late.refused).toHaveLength(1);
    expect(late.refused[0]).toMatch(/^on Left: /);
    const { document } = await shotState(id);
    const em = await database();
    const depth = await readMap(em, await loadRevision(em, document.depth.revision));
    expect(depth.data[5 * width + 5]).toBe(65535);
    const right = await readMap(em, await loadRevision(em, document.plates[0].depth.revision!));
    expect(right.data[50 * width + 230]).toBe(65535);
  });
});

describe('the history of a shot', () => {
  /** A choice as a proposal gives it: the crossing strokes and a long outline. */
  const proposed = (n: number): Choice => ({
    ingredients: [
      {
        kind: 'outline',
        way: 'add',
        points: Array.from({ length: 600 }, (_, i) => {
          const turn = (i / 600) * 2 * Math.PI;
          const radius = 20 + 3 * Math.sin(turn * 17 + n);
          return {
            x: 40 + (n % 8) * 45 + radius * Math.cos(turn),
            y: 40 + Math.floor(n / 8) * 50 + radius * Math.sin(turn),
          };
        }),
      },
    ],
    edge: PLAIN_EDGE,
  });

  test('grows by less than 4 KB a stroke with forty plates of long outlines, beside the tiles', async () => {
    const id = await begin();
    for (let n = 0; n < 40; n++)
      await actOnPlates(
        { id, expectedHead: await headOf(id) },
        { action: 'cut', plate: null, name: `Plate ${n + 1}`, choice: proposed(n), spare: true },
      );
    const em = await database();
    const outlines = JSON.stringify(Array.from({ length: 40 }, (_, n) => proposed(n))).length;
    expect(outlines).toBeGreaterThan(500_000);
    /** Bytes that the rows of a table take beside the tiles' own pixels, without PostgreSQL's compression. */
    const bytes = async (): Promise<number> => {
      let sum = 0;
      for (const table of ['history_entry', 'history_move', 'raster_revision']) {
        const [row] = await query<{ n: string }>(
          em,
          `select coalesce(sum(octet_length(to_jsonb(r)::text)), 0) as n from ${table} r`,
        );
        sum += Number(row.n);
      }
      return sum;
    };
    const { head, document } = await shotState(id);
    const before = await bytes();
    const STROKES = 100;
    let at = head;
    for (let n = 0; n < STROKES; n++)
      at = (
        await editDepth({ id, expectedHead: at }, dot(40 + (n % 8) * 45, 40, n / STROKES), {
          plate: document.plates[n % 8].id,
        })
      ).head;
    expect(((await bytes()) - before) / STROKES).toBeLessThan(4096);
  });
});

describe('a picture under an address that may be kept for ever', () => {
  const answer = async (id: string, media: string): Promise<Response> =>
    picture(
      new Request(
        `http://127.0.0.1:3000/api/shots/${id}/picture?media=${media}&left=0&top=0&right=40&bottom=40&width=40&height=40`,
        { headers: { host: '127.0.0.1:3000' } },
      ),
      { params: Promise.resolve({ id }) },
    );

  test('names its media: once the canvas is extended, the old address is gone and the new one shows the new picture', async () => {
    const id = await stage.shot('gradient', [200, 150], (x, y) => [x, y, 50]);
    const before = await shotState(id);
    const old = await answer(id, before.document.source.mediaId);
    expect(old.status).toBe(200);
    expect(old.headers.get('cache-control')).toContain('immutable');
    const after = await extendBorder(
      { id, expectedHead: before.head },
      { left: 40, top: 40, right: 0, bottom: 0, method: 'mirror', seed: 0 },
    );
    expect(after.document.source.mediaId).not.toBe(before.document.source.mediaId);
    const gone = await answer(id, before.document.source.mediaId);
    expect([gone.status, gone.headers.get('cache-control')]).toEqual([404, 'no-store']);
    const fresh = await answer(id, after.document.source.mediaId);
    const corner = await sharp(Buffer.from(await fresh.arrayBuffer()))
      .raw()
      .toBuffer();
    // The corner is now the border's: the picture mirrored at its edge, 40 px in.
    expect([...corner.subarray(0, 3)]).toEqual([39, 39, 50]);
  });
});
