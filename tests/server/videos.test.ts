import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import sharp from 'sharp';
import { BEGIN_RECIPES, type Recipe } from '@/core/recipes';
import type { MovePart } from '@/core/shot/document';
import { Render } from '@/server/db/entities';
import { database } from '@/server/db/orm';
import { query } from '@/server/db/query';
import { readMedia } from '@/server/media/store';
import { claim } from '@/server/renders/claim';
import { needsHelp, pieceState, planPieces, takePiece } from '@/server/renders/pieces';
import { sender } from '@/server/renders/queue';
import { actOnRender, renderOutputs, startRender } from '@/server/renders/renders';
import { Interrupted, runRender } from '@/server/renders/run';
import { storeOutput } from '@/server/renders/storeOutput';
import { shotState } from '@/server/shots/history';
import { changeDocument } from '@/server/shots/shots';
import { scene } from '../support/scene';

const stage = scene('Videos', async () => {
  await (await sender()).stop({ graceful: false });
});
let shot: string;

const load = async (id: string): Promise<Render> => (await database()).findOneOrFail(Render, { id });
const run = async (id: string): Promise<void> => {
  expect(await claim(id, 'me')).toBe(true);
  await runRender(await load(id), () => Promise.resolve());
};
const bytesOf = async (mediaId: string, size: number): Promise<Buffer> => {
  const parts: Buffer[] = [];
  for await (const part of readMedia(mediaId, 0, size)) parts.push(part as Buffer);
  return Buffer.concat(parts);
};

describe('a video', () => {
  const recipe = (format: 'mp4' | 'webm' | 'gif' | 'png'): Recipe => ({
    ...BEGIN_RECIPES.video,
    format,
    size: 'custom',
    custom: { width: 96, height: 64 },
  });
  /** Frames 1 to 60 at 24000/1001 a second: two pieces of 24 frames and one of 12. */
  const MOVE: MovePart = {
    fps: 23.976,
    frames: 60,
    path: 'straight',
    pace: 'keys',
    play: 'loop',
    range: null,
    ready: null,
    keys: [0, 59].map((frame) => ({
      frame,
      ease: 'linear',
      value: { position: [frame / 200, 0, 0], aim: null, pan: 0, tilt: 0, roll: 0, zoom: 1 },
    })),
  };
  beforeAll(async () => {
    shot = await stage.shot(
      'picture',
      [300, 200],
      (x, y) => [0, 1, 2].map((c) => (((y * 300 + x) * 3 + c) * 13) & 255),
      (x, y) => (x > 100 && x < 200 && y > 50 && y < 150 ? 60000 : 20000),
    );
    await changeDocument({ id: shot, expectedHead: (await shotState(shot)).head }, 'Move', { move: MOVE });
  });

  const asked = async (): Promise<void> => undefined;
  async function fileOf(id: string, name: string): Promise<Buffer> {
    const found = (await renderOutputs(id)).find((o) => o.name === name)!;
    return bytesOf(found.mediaId, found.size);
  }
  const pieces = async (id: string): Promise<{ n: number; worker: string; whole: boolean }[]> =>
    query(await database(), 'select n, worker, whole from render_piece where render_id = $1 order by n', [id]);
  function probe(file: Buffer, name: string): Record<string, string> {
    const path = join(mkdtempSync(join(tmpdir(), 'cork-video-')), name);
    writeFileSync(path, file);
    const shown =
      'stream=width,height,r_frame_rate,nb_read_frames,color_space,color_primaries,color_transfer,color_range';
    const words = ['-v', 'error', '-count_frames', '-show_entries', shown, '-of', 'json', path];
    const said = execFileSync('ffprobe', words, { encoding: 'utf8' });
    return (JSON.parse(said) as { streams: Record<string, string>[] }).streams[0];
  }

  test.each(['mp4', 'webm', 'gif'] as const)(
    'made by two workers is, bit for bit, one worker’s: %s',
    async (format) => {
      const whole = await startRender(shot, recipe(format));
      await run(whole);
      expect(await pieces(whole)).toEqual([]);

      const shared = await startRender(shot, recipe(format));
      await claim(shared, 'one');
      const render = await load(shared);
      let helped: Promise<void> | undefined;
      const invite = async (count: number): Promise<void> => {
        expect(count).toBe(2);
        // The other worker has begun its first piece before this one takes any.
        helped = runRender(render, asked, { worker: 'two', helping: true, invite: asked });
        while (!(await pieces(shared)).some(({ worker }) => worker === 'two')) await sleep(5);
      };
      const by = new Set<string>();
      const look = async (): Promise<void> => {
        for (const { worker } of await pieces(shared)) if (worker) by.add(worker);
      };
      await runRender(render, look, { worker: 'one', helping: false, invite });
      await helped;
      expect([...by].sort()).toEqual(['one', 'two']);
      const name = `move-centre.${format}`;
      const made = await fileOf(shared, name);
      expect(made.equals(await fileOf(whole, name))).toBe(true);
      const { width, height, nb_read_frames, r_frame_rate, ...colours } = probe(made, name);
      expect([width, height, nb_read_frames]).toEqual([96, 64, '60']);
      if (format === 'gif') return;
      expect(r_frame_rate).toBe('24000/1001');
      const bt709 = { color_space: 'bt709', color_primaries: 'bt709', color_transfer: 'bt709', color_range: 'tv' };
      expect(colours).toEqual(bt709);
    },
  );

  test('stopped, it keeps its whole pieces and goes on; a first frame is there early', async () => {
    const id = await startRender(shot, recipe('mp4'));
    await claim(id, 'one');
    const stopAt = async (_: number, step: string): Promise<void> => {
      if (step.startsWith('Rendering frame 31 ')) throw new Interrupted('stop');
    };
    await expect(runRender(await load(id), stopAt)).rejects.toThrow(Interrupted);
    expect((await renderOutputs(id)).map((o) => o.name)).toEqual(['first-frame.png']);
    expect((await pieces(id)).map(({ whole }) => whole)).toEqual([true, false, false]);
    await query(await database(), "update render set state = 'stopped', stop_requested = true where id = $1", [id]);
    await actOnRender(id, 'retry');
    await claim(id, 'another');
    const steps: string[] = [];
    await runRender(
      await load(id),
      async (_, step) => {
        steps.push(step);
      },
      { worker: 'another', helping: false, invite: asked },
    );
    const frames = steps.filter((step) => step.startsWith('Rendering frame'));
    expect(frames[0]).toBe('Rendering frame 25 of 60');
    expect(frames).toHaveLength(36);
    expect((await renderOutputs(id)).map((o) => o.name)).toEqual(['first-frame.png', 'move-centre.mp4']);
    const whole = await startRender(shot, recipe('mp4'));
    await run(whole);
    expect((await fileOf(id, 'move-centre.mp4')).equals(await fileOf(whole, 'move-centre.mp4'))).toBe(true);
  });

  test('as PNG frames, each is a file of its own, in order', async () => {
    const id = await startRender(shot, recipe('png'));
    await run(id);
    const files = await renderOutputs(id);
    expect(files.map((o) => o.name)).toEqual(
      Array.from({ length: 60 }, (_, n) => `frame_${String(n + 1).padStart(4, '0')}.png`),
    );
    const first = await fileOf(id, 'frame_0001.png');
    expect(await sharp(first).metadata()).toMatchObject({ format: 'png', width: 96, height: 64 });
    expect(first.equals(await fileOf(id, 'frame_0060.png'))).toBe(false);
  });

  test('broken off, frames that are stored are not made again', async () => {
    const id = await startRender(shot, recipe('png'));
    await claim(id, 'one');
    const stopAt = async (_: number, step: string): Promise<void> => {
      if (step.startsWith('Rendering frame 31 ')) throw new Interrupted('stop');
    };
    await expect(runRender(await load(id), stopAt)).rejects.toThrow(Interrupted);
    const media = async () => (await renderOutputs(id)).map((o) => o.mediaId);
    const before = await media();
    expect(before).toHaveLength(30);
    await query(await database(), 'update render_piece set worker = null where render_id = $1 and not whole', [id]);
    await runRender(await load(id), asked);
    expect((await media()).slice(0, 30)).toEqual(before);
    expect(await media()).toHaveLength(60);
  });

  test('two workers that store one file at the same time store it once', async () => {
    const id = await startRender(shot, recipe('png'));
    const path = join(mkdtempSync(join(tmpdir(), 'cork-video-')), 'frame.png');
    writeFileSync(path, Buffer.alloc(3 << 20, 7));
    const file = { name: 'frame_0001.png', mime: 'image/png', place: 0 };
    await Promise.all([1, 2, 3, 4].map(() => storeOutput(id, path, file)));
    expect((await renderOutputs(id)).map(({ n, name, size }) => [n, name, size])).toEqual([
      [0, 'frame_0001.png', 3 << 20],
    ]);
  });

  test('a worker helps only where a render is at work and has pieces to make; one that is killed gives its piece up', async () => {
    const id = await startRender(shot, recipe('mp4'));
    expect(await needsHelp(id)).toBe(false);
    await claim(id, 'one');
    await planPieces(id, 60);
    expect(await needsHelp(id)).toBe(true);
    expect(await Promise.all(['one', 'two', 'three', 'four'].map((who) => takePiece(id, who)))).toEqual(
      expect.arrayContaining([0, 1, 2, undefined]),
    );
    expect(await needsHelp(id)).toBe(false);
    await query(await database(), "update render_piece set beat_at = now() - interval '1 minute' where n = 1");
    expect(await takePiece(id, 'four')).toBe(1);
    await actOnRender(id, 'stop');
    expect(await pieceState(id)).toMatchObject({ running: false, missing: 3 });
  });
});
