import { database } from '@/server/db/orm';
import { readStoredPicture } from '@/server/rasters/pictures';
import { actOnFill, readyToFill } from '@/server/shots/fills';
import { workOf, type WorkLook } from '@/server/shots/longWork';
import { actOnPlates } from '@/server/shots/plates';
import { sender } from '@/server/renders/queue';
import { boxChoice, headOf, scene } from '../support/scene';

const stage = scene('Looks', async () => {
  await (await sender()).stop({ graceful: false });
});

const STRIPES = [
  [70, 80, 120],
  [180, 180, 150],
];

test('a large fill shows a first look before it is done: all that is hidden and nothing filled yet', async () => {
  const inside = (x: number, y: number): boolean => x >= 180 && x < 460 && y >= 90 && y < 310;
  const id = await stage.shot(
    'wide wall',
    [640, 400],
    (x, y) => (inside(x, y) ? [210, 30, 30] : STRIPES[Math.floor(x / 16) % 2]),
    (x, y) => (inside(x, y) ? 60000 : 3000),
  );
  const choice = boxChoice(180, 90, 460, 310);
  const s = await actOnPlates(
    { id, expectedHead: await headOf(id) },
    { action: 'cut', plate: null, name: 'Box', choice, spare: true },
  );
  // What a fill takes anyway may be done beforehand; nothing is worked on then, and nothing changed.
  await readyToFill(id);
  expect(workOf(id)).toBeNull();
  expect(await headOf(id)).toBe(s.head);
  const looks: WorkLook[] = [];
  const asking = setInterval(() => {
    const look = workOf(id)?.look;
    if (look && look.revision !== looks.at(-1)?.revision) looks.push(look);
  }, 10);
  const done = await actOnFill(
    { id, expectedHead: s.head },
    {
      action: 'fill',
      plate: null,
      method: 'continue',
      seeds: [1],
      area: { kind: 'hidden' },
      sample: { kind: 'everywhere' },
    },
  ).finally(() => {
    clearInterval(asking);
  });
  expect(looks.length).toBeGreaterThan(0);
  expect(looks[0].plate).toBeNull();
  expect(workOf(id)).toBeNull();
  const em = await database();
  const [first, last] = await Promise.all(
    [looks[0].revision, done.document.fill!].map((revision) => readStoredPicture(em, revision, 8)),
  );
  let filled = 0;
  let open = 0;
  let apart = 0;
  for (let i = 0; i < last.data.length; i += 4) {
    if (last.data[i + 3] === 0) continue;
    filled++;
    if (first.data[i + 3] === 0) open++;
    apart += Math.abs(first.data[i] - last.data[i]);
  }
  expect(filled).toBeGreaterThan(50_000);
  expect(open).toBe(0);
  // It is a look at the same fill: not the same px, but the same stripes, of 110 levels; a smooth one would be some 55 apart.
  expect(apart / filled).toBeLessThan(40);
  expect(done.document.fill).not.toBe(looks[0].revision);
});
