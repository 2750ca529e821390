import { join } from 'node:path';
import sharp from 'sharp';
import type { Recipe } from '@/core/shot/document';
import { Render } from '@/server/db/entities';
import { database } from '@/server/db/orm';
import { readMedia } from '@/server/media/store';
import { beat, claim, lostRenders } from '@/server/renders/claim';
import { sender } from '@/server/renders/queue';
import { actOnRender, listRenders, renderOutputs, startRender } from '@/server/renders/renders';
import { Interrupted, runRender } from '@/server/renders/run';
import { bringIn } from '@/server/shots/bringIn';
import { createProject } from '@/server/shots/desk';
import { editDepth, shotState } from '@/server/shots/shots';
import { scratch } from '../support/cli';
import { houseOfTest } from '../support/house';

let house: Awaited<ReturnType<typeof houseOfTest>>, shot: string;

beforeAll(async () => {
  house = await houseOfTest();
  const path = join(scratch(), 'picture.png');
  const pixels = Buffer.from(Uint8Array.from({ length: 300 * 200 * 3 }, (_, i) => (i * 13) & 255));
  await sharp(pixels, { raw: { width: 300, height: 200, channels: 3 } }).png().toFile(path);
  shot = await bringIn(await createProject('Test'), path, 'picture.png');
  const { head } = await shotState(shot);
  await editDepth(shot, head, { kind: 'polygon', depth: 0.95, points: [{ x: 100, y: 50 }, { x: 200, y: 50 }, { x: 200, y: 150 }, { x: 100, y: 150 }] });
});
afterAll(async () => {
  await (await sender()).stop({ graceful: false });
  await house.end();
});

const load = async (id: string): Promise<Render> => (await database()).findOneOrFail(Render, { id });
const run = async (id: string): Promise<void> => { expect(await claim(id, 'me')).toBe(true); await runRender(await load(id), async () => undefined); };
const bytesOf = async (mediaId: string, size: number): Promise<Buffer> => { const parts: Buffer[] = []; for await (const p of readMedia(mediaId, 0, size)) parts.push(p as Buffer); return Buffer.concat(parts); };
const pair: Recipe = { kind: 'pair', packing: 'left-and-right', format: 'png', quality: 92 };

test('a pair comes out whole, with a report of what was measured', async () => {
  const id = await startRender(shot, pair);
  await run(id);
  const [summary] = await listRenders(shot);
  expect(summary).toMatchObject({ state: 'done', progress: 1, report: { width: 300, height: 200, files: 2 } });
  expect(summary.report!.revealedShare).toBeGreaterThan(0);
  for (const o of await renderOutputs(id)) expect(await sharp(await bytesOf(o.mediaId, o.size)).metadata()).toMatchObject({ width: 300, height: 200, format: 'png', channels: 3 });
});

test.each([
  [{ ...pair, format: 'png16' }, { depth: 'ushort', format: 'png' }], [{ ...pair, format: 'tiff' }, { format: 'tiff' }], [{ ...pair, format: 'jpeg' }, { format: 'jpeg', chromaSubsampling: '4:4:4' }],
  [{ ...pair, packing: 'side-by-side' }, { width: 600 }], [{ ...pair, packing: 'red-cyan-least-squares' }, { width: 300 }],
  [{ kind: 'sheet', widthMm: 30, lpi: 60.13, dpi: 600, views: 5, lensSwap: false, format: 'tiff' }, { width: 709, density: 600 }],
] as [Recipe, object][])('%j', async (recipe, says) => {
  const id = await startRender(shot, recipe);
  await run(id);
  const [first] = await renderOutputs(id);
  expect(await sharp(await bytesOf(first.mediaId, first.size)).metadata()).toMatchObject(says);
});

test('numbers that make no sheet are refused before anything is queued', async () => {
  await expect(startRender(shot, { kind: 'sheet', widthMm: 30, lpi: 300, dpi: 400, views: 5, lensSwap: false, format: 'tiff' })).rejects.toThrow('only 1.33 columns under a lens');
  await expect(startRender(shot, { kind: 'sheet', widthMm: 30, lpi: 60, dpi: 600, views: 60, lensSwap: false, format: 'tiff' })).rejects.toThrow('60 views cannot be told apart');
  await expect(startRender(shot, { kind: 'movie' })).rejects.toThrow();
});

test('cut off in the middle, it goes on with what is missing and makes nothing twice', async () => {
  const id = await startRender(shot, { kind: 'views', views: 5, format: 'png', quality: 92 });
  await claim(id, 'first');
  let calls = 0;
  await expect(runRender(await load(id), async (_p, step) => { if (step.startsWith('Rendering view 003')) { calls++; throw new Interrupted('killed'); } })).rejects.toThrow(Interrupted);
  expect(calls).toBe(1);
  const before = await renderOutputs(id);
  expect(before.map((o) => o.name)).toEqual(['view_001.png', 'view_002.png']);
  // The worker is silent; to everybody else the render looks alive until its heartbeat is old.
  expect(await claim(id, 'second')).toBe(false);
  await (await database()).execute("update render set heartbeat_at = now() - interval '1 minute' where id = ?", [id]);
  expect(await lostRenders()).toContain(id);
  expect(await claim(id, 'second')).toBe(true);
  expect(await beat(id, 'first', 0.5, 'late')).toBe('not mine');
  await runRender(await load(id), async () => undefined);
  const after = await renderOutputs(id);
  expect(after.map((o) => o.name)).toEqual([1, 2, 3, 4, 5].map((n) => `view_00${n}.png`));
  expect(after.slice(0, 2).map((o) => o.mediaId)).toEqual(before.map((o) => o.mediaId));
  expect((await load(id)).state).toBe('done');
});

test('stopped while it waits, tried again, removed', async () => {
  const id = await startRender(shot, pair);
  await actOnRender(id, 'stop');
  expect(await load(id)).toMatchObject({ state: 'stopped' });
  expect(await claim(id, 'me')).toBe(false);
  await actOnRender(id, 'retry');
  await expect(actOnRender(id, 'remove')).rejects.toThrow('Stop it before removing');
  await run(id);
  await expect(actOnRender(id, 'remove')).resolves.toBeUndefined();
  expect((await listRenders(shot)).map((r) => r.id)).not.toContain(id);
});

test('asked to stop while it runs, the worker hears of it at its next beat', async () => {
  const id = await startRender(shot, pair);
  await claim(id, 'me');
  expect(await beat(id, 'me', 0.1, 'x')).toBe('go on');
  await actOnRender(id, 'stop');
  expect(await beat(id, 'me', 0.2, 'y')).toBe('stop');
});
