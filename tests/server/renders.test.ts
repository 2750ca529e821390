import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { Heart } from '@/render-worker/heart';
import { editDepth } from '@/server/shots/depth';
import { moveInHistory, shotState, type ShotState } from '@/server/shots/history';
import sharp from 'sharp';
import type { Recipe } from '@/core/recipes';
import { Render } from '@/server/db/entities';
import { database } from '@/server/db/orm';
import { query } from '@/server/db/query';
import { readMedia } from '@/server/media/store';
import { beat, claim, lostRenders } from '@/server/renders/claim';
import { sender } from '@/server/renders/queue';
import { actOnRender, listRenders, renderOutputs, startRender } from '@/server/renders/renders';
import { Interrupted, runRender } from '@/server/renders/run';
import { extendBorder } from '@/server/shots/border';
import { actOnFill } from '@/server/shots/fills';
import { actOnPlates } from '@/server/shots/plates';
import { changeDocument } from '@/server/shots/shots';
import { ROOT } from '../support/cli';
import { boxChoice, scene } from '../support/scene';

const stage = scene('Test', async () => {
  await (await sender()).stop({ graceful: false });
});
let shot: string;

beforeAll(async () => {
  shot = await stage.shot(
    'picture',
    [300, 200],
    (x, y) => [0, 1, 2].map((c) => (((y * 300 + x) * 3 + c) * 13) & 255),
    () => 32768,
  );
  const { head } = await shotState(shot);
  await editDepth(
    { id: shot, expectedHead: head },
    {
      kind: 'polygon',
      depth: 0.95,
      points: [
        { x: 100, y: 50 },
        { x: 200, y: 50 },
        { x: 200, y: 150 },
        { x: 100, y: 150 },
      ],
    },
  );
});

const load = async (id: string): Promise<Render> => (await database()).findOneOrFail(Render, { id });
const run = async (id: string): Promise<void> => {
  expect(await claim(id, 'me')).toBe(true);
  await runRender(await load(id), async () => undefined);
};
const bytesOf = async (mediaId: string, size: number): Promise<Buffer> => {
  const parts: Buffer[] = [];
  for await (const p of readMedia(mediaId, 0, size)) parts.push(p as Buffer);
  return Buffer.concat(parts);
};
const pair: Recipe = { kind: 'pair', packing: 'left-and-right', format: 'png', quality: 92 };

test('a pair comes out whole, with a report of what was measured', async () => {
  const id = await startRender(shot, pair);
  await run(id);
  const [summary] = await listRenders(shot);
  expect(summary).toMatchObject({ state: 'done', progress: 1, report: { width: 300, height: 200, files: 2 } });
  expect(summary.report!.revealedShare).toBeGreaterThan(0);
  for (const o of await renderOutputs(id))
    expect(await sharp(await bytesOf(o.mediaId, o.size)).metadata()).toMatchObject({
      width: 300,
      height: 200,
      format: 'png',
      channels: 3,
    });
});

test.each([
  [
    { ...pair, format: 'png16' },
    { depth: 'ushort', format: 'png' },
  ],
  [{ ...pair, format: 'tiff' }, { format: 'tiff' }],
  [
    { ...pair, format: 'jpeg' },
    { format: 'jpeg', chromaSubsampling: '4:4:4' },
  ],
  [{ ...pair, packing: 'side-by-side' }, { width: 600 }],
  [{ ...pair, packing: 'red-cyan-least-squares' }, { width: 300 }],
  [
    { kind: 'sheet', widthMm: 30, lpi: 60.13, dpi: 600, views: 5, lensSwap: false, format: 'tiff' },
    { width: 709, density: 600 },
  ],
] as [Recipe, object][])('%j', async (recipe, says) => {
  const id = await startRender(shot, recipe);
  await run(id);
  const [first] = await renderOutputs(id);
  expect(await sharp(await bytesOf(first.mediaId, first.size)).metadata()).toMatchObject(says);
});

describe('a render with plates', () => {
  const report = async (shotId: string): Promise<Render['report']> => (await listRenders(shotId))[0].report;
  async function withPlate(): Promise<ShotState> {
    const s = await actOnPlates(
      { id: shot, expectedHead: (await shotState(shot)).head },
      {
        action: 'cut',
        plate: null,
        name: 'Box',
        choice: boxChoice(100, 50, 200, 150),
        spare: true,
      },
    );
    return changeDocument({ id: shot, expectedHead: s.head }, 'Budget', {
      budget: { nearPx: -24, farPx: 0 },
      holePx: 0,
    });
  }
  afterEach(async () => {
    for (const p of (await shotState(shot)).document.plates)
      await actOnPlates({ id: shot, expectedHead: (await shotState(shot)).head }, { action: 'remove', plate: p.id });
  });

  test('says what its views uncover and nobody has filled; filled, nothing is open', async () => {
    const s = await withPlate();
    const { near, far } = s.document.plates[0].depth;
    await run(await startRender(shot, pair));
    // Each eye sees half of the box's parallax against the ground at its own side, over its 100 rows; a strip's width
    // is rounded to whole px at both sides.
    const strip = (24 * ((near + far) / 2 - 0.5)) / 2;
    const { openPx } = (await report(shot))!;
    expect(strip).toBeGreaterThan(4);
    expect(Math.abs(openPx! - 2 * strip * 100)).toBeLessThanOrEqual(2 * 100);
    const before = (await shotState(shot)).head;
    await actOnFill(
      { id: shot, expectedHead: before },
      {
        action: 'fill',
        plate: null,
        method: 'smooth',
        seeds: [1],
        area: { kind: 'hidden' },
        sample: { kind: 'everywhere' },
      },
    );
    await run(await startRender(shot, pair));
    expect((await report(shot))!.openPx).toBe(0);
    await actOnFill({ id: shot, expectedHead: (await shotState(shot)).head }, { action: 'clear', plate: null });
  });

  test('cut off after its last file, it still counts what all its views leave open, and keeps its size', async () => {
    await withPlate();
    await run(await startRender(shot, { ...pair, packing: 'side-by-side' }));
    const whole = (await report(shot))!;
    const id = await startRender(shot, { ...pair, packing: 'side-by-side' });
    await claim(id, 'first');
    await expect(
      runRender(await load(id), async (_p, step) => {
        if (step.startsWith('Counting')) throw new Interrupted('killed');
      }),
    ).rejects.toThrow(Interrupted);
    expect(await renderOutputs(id)).toHaveLength(1);
    await runRender(await load(id), async () => undefined);
    expect(await report(shot)).toMatchObject({ width: 600, height: 200, openPx: whole.openPx, files: 1 });
    expect(whole.openPx).toBeGreaterThan(0);
  });

  test('tells that it lives while it counts, and never goes back', async () => {
    await withPlate();
    const id = await startRender(shot, { kind: 'views', views: 6, format: 'png', quality: 92 });
    const reports: [number, string][] = [];
    await claim(id, 'me');
    await runRender(await load(id), async (progress, step) => {
      reports.push([progress, step]);
    });
    expect(reports.filter(([, step]) => step === 'Counting what is not filled')).toHaveLength(6);
    for (let n = 1; n < reports.length; n++) expect(reports[n][0]).toBeGreaterThanOrEqual(reports[n - 1][0]);
    expect(reports.at(-1)![0]).toBe(1);
  });

  test('on an extended canvas a picture and a sheet have the frame’s size', async () => {
    const before = (await shotState(shot)).head;
    const wide = await extendBorder(
      { id: shot, expectedHead: before },
      {
        left: 20,
        right: 10,
        top: 0,
        bottom: 0,
        method: 'stretch',
        seed: 1,
      },
    );
    expect(wide.document.source.width).toBe(330);
    const id = await startRender(shot, pair);
    const sheet = await startRender(shot, {
      kind: 'sheet',
      widthMm: 30,
      lpi: 60,
      dpi: 600,
      views: 2,
      lensSwap: false,
      format: 'tiff',
    });
    await run(id);
    await run(sheet);
    const [left] = await renderOutputs(id);
    const [print] = await renderOutputs(sheet);
    expect(await sharp(await bytesOf(left.mediaId, left.size)).metadata()).toMatchObject({ width: 300, height: 200 });
    // 30 mm at 600 dpi are 708.66 columns; as high as the frame's 3 : 2 asks, not the wider canvas's.
    expect(await sharp(await bytesOf(print.mediaId, print.size)).metadata()).toMatchObject({ width: 709, height: 473 });
    await moveInHistory({ id: shot, expectedHead: wide.head }, 'undo');
  });
});

test('numbers that make no sheet are refused before anything is queued', async () => {
  await expect(
    startRender(shot, { kind: 'sheet', widthMm: 30, lpi: 300, dpi: 400, views: 5, lensSwap: false, format: 'tiff' }),
  ).rejects.toThrow('only 1.33 columns under a lens');
  await expect(
    startRender(shot, { kind: 'sheet', widthMm: 30, lpi: 60, dpi: 600, views: 60, lensSwap: false, format: 'tiff' }),
  ).rejects.toThrow('60 views cannot be told apart');
  await expect(startRender(shot, { kind: 'movie' })).rejects.toThrow();
});

test('cut off in the middle, it goes on with what is missing and makes nothing twice', async () => {
  const id = await startRender(shot, { kind: 'views', views: 5, format: 'png', quality: 92 });
  await claim(id, 'first');
  let calls = 0;
  await expect(
    runRender(await load(id), async (_p, step) => {
      if (step.startsWith('Rendering view 003')) {
        calls++;
        throw new Interrupted('killed');
      }
    }),
  ).rejects.toThrow(Interrupted);
  expect(calls).toBe(1);
  const before = await renderOutputs(id);
  expect(before.map((o) => o.name)).toEqual(['view_001.png', 'view_002.png']);
  // The worker is silent; to everybody else the render looks alive until its heartbeat is old.
  expect(await claim(id, 'second')).toBe(false);
  await query(await database(), "update render set heartbeat_at = now() - interval '1 minute' where id = $1", [id]);
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

test('while its worker computes without a pause, its heart beats on and hears what people want', async () => {
  const id = await startRender(shot, pair);
  await claim(id, 'me');
  const em = await database();
  await query(em, "update render set heartbeat_at = now() - interval '1 hour' where id = $1", [id]);
  const heart = new Heart(id, 'me', join(ROOT, '.build/pulse.mjs'));
  // This thread stands still until another process has seen the beat.
  execFileSync(
    process.execPath,
    [
      '-e',
      `const { Client } = require('pg');
     const client = new Client({ connectionString: ${JSON.stringify(process.env.CORK_DATABASE_URL)} });
     client.connect().then(async () => {
       const sql = "select 1 from render where id = '${id}' and heartbeat_at > now() - interval '1 minute'";
       for (let n = 0; n < 6000 && (await client.query(sql)).rowCount === 0; n++) await new Promise((again) => setTimeout(again, 50));
       await client.end();
     });`,
    ],
    { cwd: ROOT },
  );
  expect(await claim(id, 'another')).toBe(false);
  expect(heart.wanted).toBe('go on');
  await actOnRender(id, 'stop');
  while (heart.wanted === 'go on') await sleep(50);
  expect(heart.wanted).toBe('stop');
  await heart.stop();
});

test('a heart whose thread has broken down can be stopped: its worker goes on', async () => {
  const error = jest.spyOn(console, 'error').mockImplementation(() => undefined);
  const heart = new Heart('no render', 'me', join(ROOT, '.build/no-such-code.mjs'));
  while (error.mock.calls.length === 0) await sleep(20);
  await heart.stop();
  expect(String(error.mock.calls[0][0])).toContain('no-such-code.mjs');
  error.mockRestore();
});
