import { randomUUID } from 'node:crypto';
import type { DepthEdit } from '@/core/depth/edits';
import { extendBorder } from '@/server/shots/border';
import { editDepth, makeDepth } from '@/server/shots/depth';
import { depthSteps, dropDepth, keepDepth, takeDepth } from '@/server/shots/depthHistory';
import { moveInHistory, shotState, type ShotState } from '@/server/shots/history';
import { actOnPlates } from '@/server/shots/plates';
import { changeDocument } from '@/server/shots/shots';
import { headOf, scene } from '../support/scene';

const stage = scene('Versions of depth');
const begin = (): Promise<string> => stage.shot('versions', [120, 80], (x) => [x, 90, 60]);
const at = async (id: string) => ({ id, expectedHead: await headOf(id) });
const ramp = (depth: number): DepthEdit => ({
  kind: 'ramp',
  from: { x: 0, y: 0, depth },
  to: { x: 120, y: 0, depth: 1 },
  reach: 'everywhere',
  against: 'replace',
});
const painted = async (id: string, depth: number): Promise<ShotState> => editDepth(await at(id), ramp(depth));
const revision = ({ document }: ShotState): string => document.depth.revision;

test('every step that changed a map is listed, and no other', async () => {
  const id = await begin();
  const first = await shotState(id);
  const earlier = await painted(id, 0.1);
  await changeDocument(await at(id), 'Soften tears', { tearPx: 3 });
  const two = await makeDepth(await at(id), { kind: 'level', depth: 0.4 }, null);
  const steps = await depthSteps(id, null);
  expect(steps.map((s) => [s.label, s.revision])).toEqual([
    [first.undo ?? steps[0].label, revision(first)],
    ['Ramp 0.10 to 1.00', revision(earlier)],
    ['Fill with 0.40', revision(two)],
  ]);
  expect(steps.every((s) => s.fits)).toBe(true);
  await moveInHistory(await at(id), 'undo');
  await moveInHistory(await at(id), 'undo');
  expect((await depthSteps(id, null)).map((s) => s.revision)).toEqual([revision(first), revision(earlier)]);
});

test('strokes are steps; the same map made once more is none', async () => {
  const id = await begin();
  const stroke = async (x: number) =>
    editDepth(await at(id), {
      ...{ kind: 'stroke', mode: 'set', depth: 0.9, size: 10, hardness: 1, strength: 1, pressure: 'none' },
      points: [{ x, y: 40, pressure: 1 }],
    });
  await stroke(20);
  await stroke(60);
  const level = async (): Promise<ShotState> => makeDepth(await at(id), { kind: 'level', depth: 0.4 }, null);
  await level();
  await level();
  expect((await depthSteps(id, null)).slice(1).map((s) => s.label)).toEqual([
    'Set depth 0.90',
    'Set depth 0.90',
    'Fill with 0.40',
  ]);
});

test('more steps than the history keeps between whole documents are read in their order', async () => {
  const id = await begin();
  for (let n = 0; n < 55; n++) await painted(id, n / 100);
  const steps = await depthSteps(id, null);
  expect(steps.slice(1).map((s) => s.label)).toEqual(
    Array.from({ length: 55 }, (_, n) => `Ramp ${(n / 100).toFixed(2)} to 1.00`),
  );
});

test('a version is kept under a name, taken up again as a new step, and dropped', async () => {
  const id = await begin();
  const earlier = await painted(id, 0.1);
  const kept = await keepDepth(await at(id), null, 'The flat one');
  expect(kept.document.keptDepths).toMatchObject([{ plate: null, name: 'The flat one', revision: revision(earlier) }]);
  const two = await painted(id, 0.7);
  const taken = await takeDepth(await at(id), null, revision(earlier));
  expect(revision(taken)).toBe(revision(earlier));
  expect(taken.undo).toBe('Take up The flat one');
  expect(revision(await moveInHistory(await at(id), 'undo'))).toBe(revision(two));
  await expect(keepDepth(await at(id), null, 'The flat one')).rejects.toMatchObject({ code: 'name-taken' });
  const dropped = await dropDepth(await at(id), kept.document.keptDepths[0].id);
  expect(dropped.undo).toBe('Drop The flat one');
  expect(dropped.document.keptDepths).toEqual([]);
  await expect(dropDepth(await at(id), randomUUID())).rejects.toMatchObject({ code: 'not-found' });
});

test('a map that is none of this one’s is not taken up', async () => {
  const [id, other] = [await begin(), await begin()];
  const foreign = await painted(other, 0.3);
  await expect(takeDepth(await at(id), null, revision(foreign))).rejects.toMatchObject({ code: 'not-found' });
  await expect(takeDepth(await at(id), null, randomUUID())).rejects.toMatchObject({ code: 'not-found' });
});

test('versions are of one plate, and go with it', async () => {
  const id = await begin();
  const box = [10, 10, 60, 10, 60, 50, 10, 50];
  const points = [0, 2, 4, 6].map((n) => ({ x: box[n], y: box[n + 1] }));
  const { PLAIN_EDGE } = await import('@/core/matte/choice');
  const { document } = await actOnPlates(await at(id), {
    action: 'cut',
    plate: null,
    name: 'Box',
    choice: { edge: PLAIN_EDGE, ingredients: [{ kind: 'outline', way: 'add', points }] },
    spare: true,
  });
  const plate = document.plates[0].id;
  await keepDepth(await at(id), plate, 'Of the box');
  await editDepth(await at(id), ramp(0.2), { plate });
  expect((await depthSteps(id, plate)).map((s) => s.label)).toEqual(['Cut Box', 'Ramp 0.20 to 1.00']);
  expect(await depthSteps(id, null)).toHaveLength(1);
  await actOnPlates(await at(id), { action: 'remove', plate });
  const after = await keepDepth(await at(id), null, 'Of the back plate');
  expect(after.document.keptDepths.map((k) => k.name)).toEqual(['Of the back plate']);
});

test('kept versions grow with the canvas; steps of before do not fit any more, and say so', async () => {
  const id = await begin();
  const earlier = await painted(id, 0.1);
  await keepDepth(await at(id), null, 'Kept');
  await painted(id, 0.5);
  const grown = await extendBorder(await at(id), {
    ...{ left: 10, top: 0, right: 0, bottom: 0, method: 'stretch', seed: 1 },
  });
  const [kept] = grown.document.keptDepths;
  expect(kept.revision).not.toBe(revision(earlier));
  expect((await takeDepth(await at(id), null, kept.revision)).undo).toBe('Take up Kept');
  const steps = await depthSteps(id, null);
  expect(steps.find((s) => s.revision === revision(earlier))?.fits).toBe(false);
  expect(steps.at(-1)?.fits).toBe(true);
  await expect(takeDepth(await at(id), null, revision(earlier))).rejects.toMatchObject({ code: 'size-differs' });
});
