import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { rm, writeFile } from 'node:fs/promises';
import { carriedName } from '@/core/shot/carriedNames';
import { copyPicture, toEightBits, type DepthMap } from '@/core/raster/picture';
import { bytesOfPlanes, planesOf } from '@/core/raster/planes420';
import { rgbToYcbcr } from '@/core/raster/ycbcr';
import { LIMITS } from '@/server/config';
import { database } from '@/server/db/orm';
import { ownHosts } from '@/server/http/guard';
import { readDepthFile } from '@/server/media/depthFile';
import { receiveFile, type Arrived } from '@/server/media/upload';
import { readRasterEightBits, sourceRaster } from '@/server/media/decode';
import { footagePath } from '@/server/media/footage/openFootage';
import { codecWords } from '@/server/media/video/words';
import { proxyOf, proxyState } from '@/server/media/footage/proxies';
import { loadRevision, readMap } from '@/server/rasters/revisions';
import { bringIn } from '@/server/shots/bringIn';
import { isCarried, loadCarried } from '@/server/shots/carriedRasters';
import { editDepth, faultsOfDepth, makeDepth } from '@/server/shots/depth';
import { carryShot } from '@/server/shots/carryShot';
import { dropKey, setKey } from '@/server/shots/depthKeys';
import { footageState } from '@/server/shots/footageState';
import { FilmShop } from '@/server/renders/filmShop';
import { changeDocument } from '@/server/shots/shots';
import { moveInHistory, shotState, type ShotState } from '@/server/shots/history';
import { splitFootage } from '@/server/shots/splitFootage';
import { endThreads } from '@/server/threads/pool';
import { corkTwin } from '../support/cli';
import { film, HIGH, numberInFile, numberOf, probed, WIDE } from '../support/film';
import { replaceDepth } from '../support/replaceDepth';
import { headOf, scene } from '../support/scene';

const stage = scene('Footage', endThreads);
const H264 = ['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-bf', '3', '-crf', '14', '-colorspace', 'bt709'];
const COUNT = 12;
let made = 0;

async function begin(count = COUNT): Promise<string> {
  const name = `numbered-${made++}.mp4`;
  const path = film(`${stage.dir}/${name}`, count, '24', H264);
  return bringIn(stage.project, path, name);
}

/** All frames of a file as FFmpeg decodes it, in its planes. */
const planesIn = (path: string): Buffer =>
  execFileSync('ffmpeg', ['-v', 'error', '-i', path, '-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-']);

/** Waits until the small pictures are there. */
async function prepared(id: string): Promise<ShotState['document']> {
  const { document } = await shotState(id);
  for (;;) {
    const { ready, frames, problem } = await proxyState(document.source);
    if (problem !== null) throw new Error(problem);
    if (ready === frames) return document;
    await new Promise((done) => setTimeout(done, 30));
  }
}

const at = async (id: string, moment: number) => ({ id, expectedHead: await headOf(id), moment });
const flat = (value: number): DepthMap => ({
  width: WIDE,
  height: HIGH,
  data: new Uint16Array(WIDE * HIGH).fill(value),
});
const valueOf = async (revision: string): Promise<number> => {
  const em = await database();
  return (await readMap(em, await loadRevision(em, revision))).data[0];
};

describe('footage that is brought in', () => {
  test('is a shot that begins with its first frame; the file is kept as it came, small pictures are made beside', async () => {
    const id = await begin();
    const document = await prepared(id);
    expect(document.source).toMatchObject({ width: WIDE, height: HIGH, bits: 8, hasAlpha: false, moment: 0 });
    expect(document.footage).toMatchObject({
      frames: COUNT,
      rate: { numerator: 24, denominator: 1 },
      sound: null,
      range: null,
    });
    for (const frame of [0, 5, COUNT - 1]) {
      expect(await numberInFile(await proxyOf(document.source, frame))).toBe(frame);
      expect(numberOf(await readRasterEightBits(await sourceRaster({ ...document.source, moment: frame })))).toBe(
        frame,
      );
    }
    await expect(proxyOf(document.source, COUNT)).rejects.toThrow('This frame');
  });

  test('is prepared again where the disk has lost what was made', async () => {
    const id = await begin();
    const { source } = await prepared(id);
    const pack = readFileSync(`${process.env.CORK_CACHE_DIR}/proxy/${source.mediaId}.jpegs`);
    for (const ending of ['proxy/MEDIA.jpegs', 'proxy/MEDIA.json', 'source/MEDIA.footage'])
      await rm(`${process.env.CORK_CACHE_DIR}/${ending.replace('MEDIA', source.mediaId)}`);
    await prepared(id);
    expect(readFileSync(`${process.env.CORK_CACHE_DIR}/proxy/${source.mediaId}.jpegs`).equals(pack)).toBe(true);
  });

  test('what is no film, or only one picture, is refused and leaves no shot', async () => {
    const path = film(`${stage.dir}/one.mp4`, 1, '24', H264);
    await expect(bringIn(stage.project, path, 'one.mp4')).rejects.toMatchObject({ code: 'one-picture' });
  });
});

test('only moving pictures may be larger than pictures', async () => {
  const limits = LIMITS as { bytes: number };
  const { bytes } = limits;
  limits.bytes = 1000;
  const send = (head: Buffer): Promise<Arrived> =>
    receiveFile(new Request('http://127.0.0.1/', { method: 'POST', body: Buffer.concat([head, Buffer.alloc(2000)]) }), {
      footage: true,
    });
  try {
    const png = Buffer.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 0, 0, 0, 13]);
    await expect(send(png)).rejects.toMatchObject({ code: 'too-large' });
    const mp4 = await send(Buffer.from('\0\0\0\x20ftypisom', 'latin1'));
    await mp4.remove();
  } finally {
    limits.bytes = bytes;
  }
});

describe('depth over time', () => {
  test('a frame without a key shows the nearest one; a key begins with it and is its own', async () => {
    const id = await begin();
    await prepared(id);
    await replaceDepth(await at(id, 0), 'Far', flat(10_000));
    await expect(replaceDepth(await at(id, 7), 'Near', flat(50_000))).rejects.toMatchObject({ code: 'no-key' });
    const keyed = await setKey(await at(id, 7));
    expect(keyed.document.footage!.keys.map(({ frame }) => frame)).toEqual([0, 7]);
    expect(keyed.undo).toBe('Depth key at frame 8');
    await expect(setKey(await at(id, 7))).rejects.toMatchObject({ code: 'key-there' });
    const near = await replaceDepth(await at(id, 7), 'Near', flat(50_000));
    // As it is stored it stands at its first frame.
    expect(near.document.source.moment).toBe(0);
    expect(await valueOf(near.document.depth.revision)).toBe(10_000);
    expect(await valueOf(near.document.footage!.keys[1].revision)).toBe(50_000);
    expect(await valueOf((await shotState(id, 6)).document.depth.revision)).toBe(50_000);
    expect(await valueOf((await shotState(id, 2)).document.depth.revision)).toBe(10_000);
    await moveInHistory(await at(id, 7), 'undo');
    expect(await valueOf((await shotState(id, 7)).document.depth.revision)).toBe(10_000);
    const dropped = await dropKey(await at(id, 7));
    expect(dropped.document.footage!.keys).toHaveLength(1);
    await expect(dropKey(await at(id, 0))).rejects.toMatchObject({ code: 'first-key' });
    await expect(setKey(await at(id, COUNT))).rejects.toMatchObject({ code: 'no-such-frame' });
  });

  test('marks and strokes belong to the key at which they were made', async () => {
    const id = await begin();
    await prepared(id);
    await setKey(await at(id, 5));
    const mark = {
      id: '6f0a4a53-9d55-4d5a-8f3f-7b0c1c528a12',
      name: '',
      points: [
        { x: 20, y: 20 },
        { x: 100, y: 20 },
      ],
      width: 6,
      says: { kind: 'depth' as const, depth: 0.9 },
    };
    const marked = await makeDepth(await at(id, 5), { kind: 'marks', marks: [mark], by: 'replace' }, null);
    expect(marked.document.marks).toEqual([]);
    expect(marked.document.footage!.keys[1].marks[0].marks[0]).toMatchObject({ id: mark.id });
    expect((await shotState(id, 5)).document.marks).toHaveLength(1);
    expect((await shotState(id, 4)).document.marks).toEqual([]);
    const ramp = {
      kind: 'ramp',
      from: { x: 0, y: 0, depth: 0.25 },
      to: { x: WIDE, y: 0, depth: 0.25 },
      reach: 'everywhere',
      against: 'replace',
    } as const;
    const first = await editDepth(await at(id, 0), ramp);
    expect(await valueOf(first.document.depth.revision)).toBe(Math.round(0.25 * 65535));
    expect(first.document.footage!.keys[1].revision).toBe(marked.document.footage!.keys[1].revision);
  });

  test('is carried from the keys to all other frames; another key has only its stretch carried anew', async () => {
    const id = await begin();
    const { source } = await prepared(id);
    await replaceDepth(await at(id, 0), 'Far', flat(20_000));
    await setKey(await at(id, COUNT - 1));
    expect(await carryShot(id)).toEqual({ carried: COUNT - 2 });
    const state = await footageState(id);
    expect(state.trust.every((v) => v !== null && v > 0.2)).toBe(true);
    const { footage } = (await shotState(id)).document;
    const map = await loadCarried(carriedName(source.mediaId, { keys: footage!.keys, plates: [] }, 4), source);
    // Both keys say the same everywhere, and the camera stands still: the half percent is what a motion that is
    // fitted may be off.
    expect([map.width, map.height]).toEqual([WIDE, HIGH]);
    for (const i of [0, 9999]) expect(Math.abs(map.data[i] - 20_000)).toBeLessThan(330);
    expect(await carryShot(id)).toEqual({ carried: 0 });
    // A key is begun with what is carried there; the stretch before it stays.
    await setKey(await at(id, 6));
    expect((await footageState(id)).trust.filter((v) => v === null)).toHaveLength(COUNT - 3);
    expect(await carryShot(id)).toEqual({ carried: COUNT - 3 });
    await replaceDepth(await at(id, COUNT - 1), 'Nearer', flat(30_000));
    expect(await carryShot(id)).toEqual({ carried: 4 });
    // What was carried from the keys of before is there still, when they come back.
    await moveInHistory(await at(id, 0), 'undo');
    expect(await carryShot(id)).toEqual({ carried: 0 });
    expect(isCarried('carried_../../etc/passwd')).toBe(false);
  });

  test('a cut is found, never crossed, and each scene can be a shot of its own', async () => {
    const path = `${stage.dir}/cut.mp4`;
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-y', '-f', 'lavfi', '-i', 'testsrc=size=160x96:rate=24:duration=0.5'],
      ...['-f', 'lavfi', '-i', 'color=c=#305020:size=160x96:rate=24:duration=0.5'],
      ...['-filter_complex', '[0][1]concat=n=2', ...H264, path],
    ]);
    const id = await bringIn(stage.project, path, 'cut.mp4');
    await expect(splitFootage(await begin())).rejects.toMatchObject({ code: /not-yet|no-cuts/ });
    await prepared(id);
    const { proxies } = await footageState(id);
    expect(proxies).toMatchObject({ frames: 24, cuts: [12], damagedFrom: null });
    expect(await carryShot(id)).toEqual({ carried: 11 });
    expect((await footageState(id)).trust.map((v) => v === null)).toEqual(
      Array.from({ length: 24 }, (_, n) => n >= 12),
    );
    const shots = await splitFootage(id);
    const parts = await Promise.all(shots.map((shot) => shotState(shot)));
    expect(parts.map(({ name, document }) => [name, document.footage!.range])).toEqual([
      ['cut 1', { first: 0, last: 11 }],
      ['cut 2', { first: 12, last: 23 }],
    ]);
    expect(parts[1].document.source).toEqual((await shotState(id)).document.source);
  });

  test('frames are handed over as they came where there is no parallax, in any order, and moved where there is', async () => {
    const id = await begin();
    await prepared(id);
    const budget = (px: number) => ({ budget: { nearPx: -px, farPx: 0 } });
    await changeDocument(await at(id, 0), 'Flat', budget(0));
    const { document } = await shotState(id);
    const how = { size: document.source, shutter: 0, colours: 'rgb' } as const;
    const inPlanes = { ...how, colours: 'ycbcr' } as const;
    const open = new FilmShop(document, document.footage!);
    expect(() => {
      open.requireCarried();
    }).toThrow(/11 of 12 frames have no depth yet, the first is frame 2/);
    await carryShot(id);
    open.requireCarried();
    for (const frame of [0, 1, 2, 9, 4, 5]) {
      const source = await readRasterEightBits(await sourceRaster({ ...document.source, moment: frame }));
      for (const eye of [-0.5, 0.5]) {
        const seen = await open.see(frame, eye, how);
        expect(Buffer.compare(Buffer.from(seen.data as Uint8Array), Buffer.from(source.data))).toBe(0);
      }
    }
    // So are the planes that the file holds, which no colours are made of on their way.
    expect(await open.colours()).toBe('ycbcr');
    const decoded = planesIn(footagePath(document.source.mediaId));
    const bytes = bytesOfPlanes(WIDE, HIGH);
    for (const frame of [0, 1, 9]) {
      const seen = planesOf(toEightBits(await open.see(frame, 0.5, inPlanes)));
      expect(Buffer.compare(Buffer.from(seen.data), decoded.subarray(frame * bytes, (frame + 1) * bytes))).toBe(0);
    }
    await open.end();
    // One depth everywhere: the eyes' frames are the source's, 6 px apart.
    await replaceDepth(await at(id, 0), 'White', flat(65535));
    const moved = (await changeDocument(await at(id, 0), 'Apart', budget(12))).document;
    const film = new FilmShop(moved, moved.footage!);
    // Each is drawn into the room of the one before it.
    const left = copyPicture(await film.see(0, -0.5, how));
    const right = copyPicture(await film.see(0, 0.5, how));
    const planes = await film.see(0, 0.5, inPlanes);
    await film.end();
    const luma = rgbToYcbcr(toEightBits(right)).data;
    // Half a step of each of the two ways.
    for (let i = 0; i < luma.length; i += 4) expect(Math.abs(luma[i] - planes.data[i])).toBeLessThanOrEqual(1);
    const value = ({ data }: typeof left, x: number): number => data[4 * (100 * WIDE + x)];
    expect(Math.abs(value(left, 100 + 6) - value(right, 100 - 6))).toBeLessThanOrEqual(2);
    expect(value(left, 100) - value(right, 100)).toBeLessThan(-8);
  });

  test('a frame’s depth goes out and is looked over as it is seen: carried where it has none of its own', async () => {
    const id = await begin();
    const { source } = await prepared(id);
    await replaceDepth(await at(id, 0), 'Far', flat(20_000));
    await setKey(await at(id, COUNT - 1));
    await replaceDepth(await at(id, COUNT - 1), 'Near', flat(40_000));
    await carryShot(id);
    const { footage } = (await shotState(id)).document;
    const name = carriedName(source.mediaId, { keys: footage!.keys, plates: [] }, 3);
    const map = await loadCarried(name, source);
    const route = await import('@/app/api/shots/[id]/depth/export/route');
    const asked = (frame: number): Promise<Response> =>
      route.GET(new Request(`http://127.0.0.1/export?moment=${frame}`, { headers: { host: ownHosts()[0] } }), {
        params: Promise.resolve({ id }),
      });
    const answer = await asked(3);
    expect(answer.status).toBe(200);
    const path = `${stage.dir}/out.png`;
    await writeFile(path, Buffer.from(await answer.arrayBuffer()));
    const out = await readDepthFile(path, 'out.png', { whiteIsNear: true, mend: false });
    expect(Buffer.compare(Buffer.from(out.data.buffer), Buffer.from(map.data.buffer))).toBe(0);
    expect(out.data[0]).not.toBe(20_000);
    expect(Array.isArray(await faultsOfDepth(id, null, 3))).toBe(true);
    // What makes a map is refused before it works, not after.
    const fit = { kind: 'fit', radius: 4, edges: 0.5 } as never;
    await expect(makeDepth(await at(id, 3), fit, null)).rejects.toMatchObject({ code: 'no-key' });
  });

  test('the command hands frames over; what cannot be is said', async () => {
    const id = await begin();
    await prepared(id);
    const video = `${stage.dir}/film.mp4`;
    const run = (...words: string[]) => corkTwin('footage', '--shot', id, ...words);
    expect(run('--out', video).err).toMatch(/11 of 12 frames have no depth yet, the first is frame 2/);
    await carryShot(id);
    expect(run('--frames', '3-9', '--out', video)).toMatchObject({ status: 0, err: '' });
    expect(probed(video)).toEqual({ frames: 7, rate: '24/1', width: 2 * WIDE, height: HIGH });
    // Without parallax the film is its source, coded anew: the same pictures as FFmpeg makes of it by itself.
    expect(run('--as', 'centre', '--out', video)).toMatchObject({ status: 0, err: '' });
    const { document } = await shotState(id);
    const coded = `${stage.dir}/coded.mp4`;
    const source = ['-v', 'error', '-y', '-i', footagePath(document.source.mediaId)];
    execFileSync('ffmpeg', [
      ...source,
      ...codecWords({ width: WIDE, height: HIGH, format: 'mp4', fps: 24, colours: 'ycbcr' }),
      coded,
    ]);
    expect(planesIn(video).equals(planesIn(coded))).toBe(true);
    const frames = `${stage.dir}/frames`;
    expect(run('--frames', '5-6', '--as', 'right', '--out', frames)).toMatchObject({ status: 0, err: '' });
    // One depth everywhere, on the screen: the eye sees the film's own frames.
    for (const n of [5, 6]) expect(await numberInFile(readFileSync(`${frames}/frame_000${n}.png`))).toBe(n - 1);
    expect(run('--frames', '5-99', '--out', video).err).toMatch(/has frames 1 to 12; --frames asks for 5 to 99/);
    expect(run('--as', 'sideways', '--out', video).err).toMatch(/--as takes/);
    expect(run('--out', `${stage.dir}/film.avi`).err).toMatch(/--out takes a folder or a file that ends in/);
    const still = await stage.shot('still', [16, 16], () => [90, 90, 90]);
    expect(corkTwin('footage', '--shot', still, '--out', video).err).toMatch(/'still' is a still: it has no frames/);
  });
});
