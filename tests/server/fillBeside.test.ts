import { randomUUID } from 'node:crypto';
import { database } from '@/server/db/orm';
import { query } from '@/server/db/query';
import { readStoredPicture } from '@/server/rasters/pictures';
import type { FillAction } from '@/server/shots/fillActions';
import { actOnFill } from '@/server/shots/fills';
import { moveInHistory, shotState, type ShotState } from '@/server/shots/history';
import { actOnPlates } from '@/server/shots/plates';
import { sender } from '@/server/renders/queue';
import type { Straight } from '@/core/raster/picture';
import type { HeldStroke } from '@/core/shot/document';
import { boxChoice, headOf, scene } from '../support/scene';

const stage = scene('Strokes', async () => {
  await (await sender()).stop({ graceful: false });
});
const width = 320;
const height = 200;

/** Where a red wall and a blue one meet: in a line that falls to the right behind a card. */
const meet = (x: number): number => 85 + 30 * Math.min(1, Math.max(0, (x - 100) / 120));

/** The red wall above the blue one, both with fine upright stripes; a green card before them. */
async function begin(): Promise<ShotState> {
  const inside = (x: number, y: number): boolean => x >= 110 && x < 210 && y >= 50 && y < 150;
  const id = await stage.shot(
    'two walls',
    [width, height],
    (x, y) => {
      if (inside(x, y)) return [30, 200, 40];
      const light = x % 10 < 5 ? 30 : 0;
      return y < meet(x) ? [170 + light, 40, 40] : [40, 40, 170 + light];
    },
    (x, y) => (inside(x, y) ? 60000 : 3000),
  );
  const choice = boxChoice(110, 50, 210, 150);
  const cut = await actOnPlates(
    { id, expectedHead: await headOf(id) },
    { action: 'cut', plate: null, name: 'Card', choice, spare: true },
  );
  return fill(cut, { kind: 'hidden' });
}
type Area = Extract<FillAction, { action: 'fill' }>['area'];
const fill = async (s: ShotState, area: Area): Promise<ShotState> =>
  actOnFill(
    { id: s.id, expectedHead: s.head },
    { action: 'fill', plate: null, method: 'continue', seeds: [1], area, sample: { kind: 'everywhere' } },
  );
const filled = async (s: ShotState): Promise<Straight> => readStoredPicture(await database(), s.document.fill!, 8);
const points = [
  { x: 105, y: 75 },
  { x: 215, y: 75 },
];
const LINE: HeldStroke = { id: randomUUID(), kind: 'line', points, width: 12, reach: 20 };
const BORDER: HeldStroke = {
  id: randomUUID(),
  kind: 'border',
  points: [
    { x: 100, y: 85 },
    { x: 220, y: 115 },
  ],
  width: 12,
  reach: 26,
};

describe('a stroke says how a fill goes on', () => {
  let begun: ShotState;
  let second: ShotState;
  beforeAll(async () => {
    begun = await begin();
    second = await begin();
  });

  test('a border: each side goes on as if the other were not there, and nothing beyond its reach is touched', async () => {
    const s = await fill(begun, { kind: 'beside', stroke: BORDER });
    expect(s.undo).toBe('Part two grounds of the back plate');
    const [before, after] = [await filled(begun), await filled(s)];
    let wrong = 0;
    let touched = 0;
    for (let y = 50; y < 150; y++)
      for (let x = 110; x < 210; x++) {
        const i = (y * width + x) * 4;
        const same = [0, 1, 2, 3].every((c) => after.data[i + c] === before.data[i + c]);
        const off = Math.abs(y + 0.5 - meet(x + 0.5));
        if (off > 28) {
          expect(same).toBe(true);
          continue;
        }
        if (off > 25 || off < 1) continue;
        touched++;
        const isRed = after.data[i] > after.data[i + 2];
        if (isRed !== y < meet(x)) wrong++;
      }
    expect(touched).toBeGreaterThan(4000);
    expect(wrong / touched).toBeLessThan(0.02);
  });

  test('a line stays as it was drawn; what lies beside it is filled anew, and nothing else', async () => {
    const drawn = await actOnFill(
      { id: begun.id, expectedHead: await headOf(begun.id) },
      { action: 'edit', plate: null, edit: { kind: 'line', points, width: 12, beyond: false } },
    );
    const s = await fill(drawn, { kind: 'beside', stroke: LINE });
    expect(s.undo).toBe('Fill the back plate beside a line');
    const [before, after] = [await filled(drawn), await filled(s)];
    let anew = 0;
    for (let y = 50; y < 150; y++)
      for (let x = 112; x < 208; x++) {
        const i = (y * width + x) * 4;
        const same = [0, 1, 2, 3].every((c) => after.data[i + c] === before.data[i + c]);
        const off = Math.abs(y + 0.5 - 75);
        if (off < 5 || off > 27) expect(same).toBe(true);
        else if (!same) anew++;
      }
    expect(anew).toBeGreaterThan(100);
  });

  test('a stroke that comes near nothing hidden says so', async () => {
    const s = await headOf(begun.id);
    const far = { ...LINE, points: points.map(({ x }) => ({ x: x - 100, y: 5 })), width: 4, reach: 10 };
    const area = { kind: 'beside', stroke: far } as const;
    await expect(
      actOnFill(
        { id: begun.id, expectedHead: s },
        { action: 'fill', plate: null, method: 'continue', seeds: [1], area, sample: { kind: 'everywhere' } },
      ),
    ).rejects.toThrow('comes near nothing that nearer plates hide');
  });

  test('a stroke is held: whatever is filled later heeds it, until it is let go of', async () => {
    const at = async () => ({ id: begun.id, expectedHead: await headOf(begun.id) });
    const state = await shotState(begun.id);
    const parted = await fill(state, { kind: 'beside', stroke: { ...BORDER, id: randomUUID() } });
    const { id } = parted.document.strokes[parted.document.strokes.length - 1];
    const within = (x: number, y: number): number => Math.abs(y + 0.5 - meet(x + 0.5));
    /** Share of what lies near the border that has the wrong wall's colour. */
    const wrong = async (s: ShotState): Promise<number> => {
      const { data } = await filled(s);
      let [count, off] = [0, 0];
      for (let y = 50; y < 150; y++)
        for (let x = 110; x < 210; x++) {
          if (within(x, y) > 24 || within(x, y) < 2) continue;
          // The line that was drawn before has its own colours.
          if (Math.abs(y + 0.5 - 75) < 8) continue;
          const i = (y * width + x) * 4;
          count++;
          if (data[i] > data[i + 2] !== y < meet(x)) off++;
        }
      return off / count;
    };
    const again = await fill(parted, { kind: 'hidden' });
    expect(again.document.strokes).toEqual(parted.document.strokes);
    expect(await wrong(again)).toBeLessThan(0.02);
    const smooth = await actOnFill(await at(), {
      action: 'fill',
      plate: null,
      method: 'smooth',
      seeds: [1],
      area: { kind: 'hidden' },
      sample: { kind: 'everywhere' },
    });
    expect(await wrong(smooth)).toBeLessThan(0.02);
    const free = await actOnFill(await at(), { action: 'let-go', plate: null, stroke: id });
    expect(free.undo).toBe('Let go of a stroke of the back plate');
    expect(free.document.strokes.map((s) => s.id)).not.toContain(id);
    // What was filled stays.
    expect(free.document.fill).toBe(smooth.document.fill);
    // Let go of twice, as from two windows, it says so and stores no step.
    const twice = { action: 'let-go', plate: null, stroke: id } as const;
    await expect(actOnFill(await at(), twice)).rejects.toMatchObject({ status: 404 });
    expect(await headOf(begun.id)).toBe(free.head);
  });

  test('a line that is held is laid first, and what is filled goes on from it', async () => {
    const before = await shotState(begun.id);
    // The stroke of the second test.
    expect(before.document.strokes.map((s) => [s.kind, s.width])).toContainEqual(['line', 12]);
    const cleared = await actOnFill({ id: begun.id, expectedHead: before.head }, { action: 'clear', plate: null });
    const lined = await fill(cleared, { kind: 'hidden' });
    const { data } = await filled(lined);
    const drawn = await actOnFill(
      {
        id: begun.id,
        expectedHead: (await actOnFill({ id: begun.id, expectedHead: lined.head }, { action: 'clear', plate: null }))
          .head,
      },
      { action: 'edit', plate: null, edit: { kind: 'line', points, width: 12, beyond: false } },
    );
    const alone = (await filled(drawn)).data;
    for (let x = 112; x < 208; x++) {
      const i = (74 * width + x) * 4;
      expect(Array.from(data.subarray(i, i + 4))).toEqual(Array.from(alone.subarray(i, i + 4)));
    }
    // All that is hidden is filled.
    for (let y = 52; y < 148; y++) for (let x = 112; x < 208; x++) expect(data[(y * width + x) * 4 + 3]).toBe(255);
  });

  test('a history of before, with no strokes in it, takes one and goes back over it', async () => {
    const em = await database();
    // As it was stored then: neither the whole documents nor the changes know of strokes.
    for (const column of ['document', 'patch'])
      await query(
        em,
        `update history_entry set ${column} = regexp_replace(${column}::text, '"strokes": \\[\\](, )?', '', 'g')::jsonb where shot_id = $1`,
        [second.id],
      );
    await query(
      em,
      `update shot set document = regexp_replace(document::text, '"strokes": \\[\\](, )?', '', 'g')::jsonb where id = $1`,
      [second.id],
    );
    const before = await shotState(second.id);
    expect(before.document.plates.map((p) => p.strokes)).toEqual([[]]);
    const stroke = { ...BORDER, id: randomUUID() };
    const held = await fill(before, { kind: 'beside', stroke });
    expect((await shotState(second.id)).document.strokes).toEqual([stroke]);
    const undone = await moveInHistory({ id: second.id, expectedHead: held.head }, 'undo');
    expect(undone.document).toMatchObject({ strokes: [], fill: before.document.fill });
  });
});
