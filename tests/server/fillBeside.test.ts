import { database } from '@/server/db/orm';
import { readStoredPicture } from '@/server/rasters/pictures';
import type { FillAction } from '@/server/shots/fillActions';
import { actOnFill } from '@/server/shots/fills';
import type { ShotState } from '@/server/shots/history';
import { actOnPlates } from '@/server/shots/plates';
import { sender } from '@/server/renders/queue';
import type { Straight } from '@/core/raster/picture';
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
const away = (y: number, from: { y: number }): number => Math.abs(y + 0.5 - from.y);

describe('a stroke says how a fill goes on', () => {
  let begun: ShotState;
  beforeAll(async () => {
    begun = await begin();
  });

  test('a border: each side goes on as if the other were not there, and nothing beyond its reach is touched', async () => {
    const stroke = { from: { x: 100, y: 85 }, to: { x: 220, y: 115 } };
    const s = await fill(begun, { kind: 'beside', ...stroke, width: 0, reach: 26, parts: true });
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
    const stroke = { from: { x: 105, y: 75 }, to: { x: 215, y: 75 } };
    const drawn = await actOnFill(
      { id: begun.id, expectedHead: await headOf(begun.id) },
      { action: 'edit', plate: null, edit: { kind: 'line', ...stroke, width: 12, beyond: false } },
    );
    const s = await fill(drawn, { kind: 'beside', ...stroke, width: 12, reach: 20, parts: false });
    expect(s.undo).toBe('Fill the back plate beside a line');
    const [before, after] = [await filled(drawn), await filled(s)];
    let anew = 0;
    for (let y = 50; y < 150; y++)
      for (let x = 112; x < 208; x++) {
        const i = (y * width + x) * 4;
        const same = [0, 1, 2, 3].every((c) => after.data[i + c] === before.data[i + c]);
        const off = away(y, stroke.from);
        if (off < 5 || off > 27) expect(same).toBe(true);
        else if (!same) anew++;
      }
    expect(anew).toBeGreaterThan(100);
  });

  test('a stroke that comes near nothing hidden says so', async () => {
    const s = await headOf(begun.id);
    const area = {
      kind: 'beside',
      from: { x: 5, y: 5 },
      to: { x: 30, y: 5 },
      width: 4,
      reach: 10,
      parts: false,
    } as const;
    await expect(
      actOnFill(
        { id: begun.id, expectedHead: s },
        { action: 'fill', plate: null, method: 'continue', seeds: [1], area, sample: { kind: 'everywhere' } },
      ),
    ).rejects.toThrow('comes near nothing that nearer plates hide');
  });
});
