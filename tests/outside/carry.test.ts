import { execFileSync } from 'node:child_process';
import { copyFileSync, existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { resizedFlow, type FlowField } from '@/core/flow/flowField';
import { inverseSearch } from '@/core/flow/inverseSearch';
import { halfOf, type Plane } from '@/core/flow/plane';
import { sampledAt } from '@/core/raster/sampledAt';
import { openFrames } from '@/server/media/video/frames';
import { corkTwin, OPENCV, ROOT, scratch } from '../support/cli';
import { python } from '../support/python';

const CLIP = join(ROOT, 'tests/data/clip');
const FILM = join(ROOT, 'demo/drift/clip.mp4');
const dir = scratch();
const folder = (name: string): string => {
  mkdirSync(join(dir, name), { recursive: true });
  return join(dir, name);
};
async function depthOf(path: string): Promise<Uint16Array> {
  const data = await sharp(path).toColourspace('grey16').raw({ depth: 'ushort' }).toBuffer();
  return new Uint16Array(data.buffer, data.byteOffset, data.length / 2);
}
/** Mean error, % of all depth. */
const error = (a: Uint16Array, at: (i: number) => number): number =>
  (100 * a.reduce((sum, v, i) => sum + Math.abs(v - at(i)), 0)) / a.length / 65535;

// Truth: the demo clip's exact depth, halfway between two keys. Peer: blending these.
test('depth of the first and the last of 24 frames is carried to all between', async () => {
  const film = join(dir, 'drift.mp4');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', FILM, '-frames:v', '25', '-c', 'copy', film]);
  const keys = folder('keys');
  for (const n of ['0001', '0024']) copyFileSync(join(CLIP, `depth_${n}.png`), join(keys, `frame_${n}.png`));
  const out = join(dir, 'carried');
  const run = corkTwin('carry', '--frames', film, '--keys', keys, '--kind', 'depth', '--out', out, '--json');
  expect(run.err).toBe('');
  const { frames } = JSON.parse(run.out) as { frames: { name: string; key: boolean; trust: number }[] };
  const names = Array.from({ length: 25 }, (_, n) => `frame_${String(n + 1).padStart(4, '0')}.png`);
  expect(frames.map((f) => f.name)).toEqual(names);
  expect(readdirSync(out).sort()).toEqual(names);
  expect(frames.filter((f) => f.key).map((f) => [f.name, f.trust])).toEqual([
    [names[0], 1],
    [names[23], 1],
  ]);
  const [first, last] = [await depthOf(join(keys, names[0])), await depthOf(join(keys, names[23]))];
  expect((await depthOf(join(out, names[0]))).every((v, i) => v === first[i])).toBe(true);
  const truth = await depthOf(join(CLIP, 'depth_0012.png'));
  const carried = await depthOf(join(out, names[11]));
  const blended = error(truth, (i) => first[i] + (11 / 23) * (last[i] - first[i]));
  const off = error(truth, (i) => carried[i]);
  // What was asked for 24 frames from key to key.
  expect(off).toBeLessThan(1.3);
  expect(off).toBeLessThan(blended / 4);
  // What is trusted is right for most of it.
  expect(frames[11].trust).toBeGreaterThan(0.7);
});

const matteOf = async (path: string): Promise<Buffer> => sharp(path).extractChannel(0).raw().toBuffer();
/** Intersection over union. */
function overlap(a: Buffer, b: Buffer): number {
  let [both, either] = [0, 0];
  for (let i = 0; i < a.length; i++) {
    const [p, q] = [a[i] >= 128, b[i] >= 128];
    if (p && q) both++;
    if (p || q) either++;
  }
  return both / either;
}

// Truth: pixels of the clip's exact depth that lie on the lantern, or the free column (their places are in the
// scene's file).
test('mattes are carried as layers: one that floats off, and one that a column goes in front of', async () => {
  const film = join(dir, 'float.mp4');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', FILM, '-frames:v', '25', '-c', 'copy', film]);
  const middle = async (name: string, what: string, keys: readonly string[]): Promise<number> => {
    const from = folder(`${name}-keys`);
    for (const n of keys) copyFileSync(join(CLIP, `${what}_${n}.png`), join(from, `frame_${n}.png`));
    const out = join(dir, name);
    const run = corkTwin('carry', '--frames', film, '--keys', from, '--kind', 'matte', '--out', out, '--json');
    expect(run.err).toBe('');
    const { frames } = JSON.parse(run.out) as { frames: { name: string; key: boolean; trust: number }[] };
    expect(frames.map((f) => f.name)).toEqual(readdirSync(out).sort());
    expect(frames.filter((f) => f.key).map((f) => f.name)).toEqual(keys.map((n) => `frame_${n}.png`));
    // Half behind the column in the end.
    if (what === 'lantern' && keys.length === 1) {
      expect(frames[12].trust).toBeGreaterThan(0.9);
      expect(frames[24].trust).toBeLessThan(0.8);
    }
    return overlap(await matteOf(join(out, 'frame_0013.png')), await matteOf(join(CLIP, `${what}_0013.png`)));
  };
  expect(await middle('lantern-on', 'lantern', ['0001'])).toBeGreaterThan(0.93);
  expect(await middle('lantern-between', 'lantern', ['0001', '0025'])).toBeGreaterThan(0.94);
  expect(await middle('column-between', 'column', ['0001', '0025'])).toBeGreaterThan(0.97);
});

// A real scene before a camera that stands still; people walk through a part of it.
test('what stands still in real footage keeps its key’s depth bit by bit', async () => {
  const film = join(dir, 'street.mp4');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', join(OPENCV, 'vtest.avi'), '-frames:v', '6', '-crf', '12', film]);
  const keys = folder('street-keys');
  const [width, height] = [768, 576];
  const depth = Uint16Array.from({ length: width * height }, (_, i) => Math.floor(i / width) * 100 + (i % 97));
  await sharp(Buffer.from(depth.buffer), { raw: { width, height, channels: 1, depth: 'ushort' } as never })
    .toColourspace('grey16')
    .png()
    .toFile(join(keys, 'frame_0001.png'));
  const out = join(dir, 'street');
  expect(corkTwin('carry', '--frames', film, '--keys', keys, '--kind', 'depth', '--out', out).err).toBe('');
  const key = await depthOf(join(keys, 'frame_0001.png'));
  for (const name of readdirSync(out)) {
    const carried = await depthOf(join(out, name));
    const same = carried.reduce((n, v, i) => n + (v === key[i] ? 1 : 0), 0) / key.length;
    // Some nine tenths of the picture are ground and walls.
    expect(same).toBeGreaterThan(0.9);
  }
});

// FFmpeg's own record of how a film is to be turned (display matrix); Debian's ffprobe reads it back.
test('a film that was taken upright is turned before it is carried', async () => {
  const [plain, upright] = [join(dir, 'plain.mp4'), join(dir, 'upright.mp4')];
  const ffmpeg = (...words: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...words]);
  ffmpeg('-i', FILM, '-frames:v', '2', '-vf', 'scale=320:200', '-crf', '10', plain);
  ffmpeg('-i', plain, '-c', 'copy', '-metadata:s:v', 'rotate=90', upright);
  const frames = await openFrames(upright);
  const lying = await openFrames(plain);
  const [a, b] = [await frames.frame(0), await lying.frame(0)];
  await Promise.all([frames.close(), lying.close()]);
  expect([a.width, a.height, frames.count]).toEqual([200, 320, 2]);
  /** Grey levels off, in the mean, where what lies at (x, y) has come to that place. */
  const off = (to: (x: number, y: number) => number): number => {
    let sum = 0;
    for (let y = 0; y < 200; y++)
      for (let x = 0; x < 320; x++)
        for (let c = 0; c < 3; c++) sum += Math.abs(a.data[4 * to(x, y) + c] - b.data[4 * (y * 320 + x) + c]);
    return sum / (320 * 200 * 3);
  };
  // Against the clock, and with it. Half of the colours are stored, and interpolated along other lines once it is
  // turned.
  const against = off((x, y) => (319 - x) * 200 + y);
  const along = off((x, y) => x * 200 + 199 - y);
  expect(against).toBeLessThan(2);
  expect(along).toBeGreaterThan(20);
});

const grey = async (path: string): Promise<Plane> => {
  const { data, info } = await sharp(path).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  const plane = new Float32Array(info.width * info.height);
  for (let i = 0; i < plane.length; i++)
    plane[i] = 0.299 * data[3 * i] + 0.587 * data[3 * i + 1] + 0.114 * data[3 * i + 2];
  return { width: info.width, height: info.height, data: plane };
};

// Peer: OpenCV's dense inverse search, medium, by how far colours are off where the flow leads, on a real pair.
test('flow leads to the same colours as OpenCV’s does', async () => {
  const paths = [1, 2].map((n) => join(OPENCV, `rubberwhale${n}.png`));
  const [a, b] = [await grey(paths[0]), await grey(paths[1])];
  const warped = ({ dx, dy }: FlowField): number => {
    let [sum, n] = [0, 0];
    for (let y = 8; y < a.height - 8; y++)
      for (let x = 8; x < a.width - 8; x++, n++) {
        const i = y * a.width + x;
        sum += Math.abs(sampledAt(b, x + dx[i], y + dy[i]) - a.data[i]);
      }
    return sum / n;
  };
  const raw = join(dir, 'dis.raw');
  python(
    `
import cv2, sys
a, b = (cv2.cvtColor(cv2.imread(p), cv2.COLOR_BGR2GRAY) for p in sys.argv[1:3])
cv2.DISOpticalFlow_create(cv2.DISOPTICAL_FLOW_PRESET_MEDIUM).calc(a, b, None).tofile(sys.argv[3])`,
    [...paths, raw],
  );
  const bytes = readFileSync(raw);
  const both = new Float32Array(bytes.buffer, bytes.byteOffset, 2 * a.data.length);
  const peer = warped({
    ...a,
    dx: a.data.map((_, i) => both[2 * i]),
    dy: a.data.map((_, i) => both[2 * i + 1]),
  });
  expect(warped(inverseSearch(a, b))).toBeLessThan(peer);
  // At half the size, as carrying looks for it.
  expect(warped(resizedFlow(inverseSearch(halfOf(a), halfOf(b)), a))).toBeLessThan(1.1 * peer);
});

test('what cannot be carried is refused by name', async () => {
  const keys = folder('wrong-keys');
  copyFileSync(join(CLIP, 'depth_0001.png'), join(keys, 'frame_0099.png'));
  const frames = folder('few');
  for (const n of ['0001', '0012']) copyFileSync(join(CLIP, `frame_${n}.png`), join(frames, `frame_${n}.png`));
  const run = (...words: string[]) => corkTwin('carry', '--kind', 'depth', '--out', join(dir, 'none'), ...words);
  expect(run('--frames', frames, '--keys', keys).err).toMatch(/frame_0099\.png is named like none of the 2 frames/);
  expect(run('--frames', frames, '--keys', folder('empty')).err).toMatch(/No frame has depth yet/);
  expect(run('--frames', folder('empty'), '--keys', keys).err).toMatch(/holds no pictures/);
  expect(run('--frames', join(dir, 'nowhere'), '--keys', keys).err).toMatch(/does not exist/);
  const other = folder('other-size');
  copyFileSync(join(CLIP, 'frame_0001.png'), join(other, 'frame_0001.png'));
  await sharp({ create: { width: 96, height: 60, channels: 3, background: '#888' } }).toFile(
    join(other, 'frame_0002.png'),
  );
  expect(run('--frames', other, '--keys', keys).err).toMatch(
    /frame_0002\.png is 96 × 60 px but frame_0001\.png is 960 × 600 px/,
  );
  copyFileSync(join(CLIP, 'frame_0012.png'), join(other, 'frame_0002.jpg'));
  expect(run('--frames', other, '--keys', keys).err).toMatch(/two pictures named frame_0002/);
  const twice = folder('twice');
  for (const ending of ['png', 'tif'])
    await sharp(join(CLIP, 'depth_0001.png')).toFile(join(twice, `frame_0001.${ending}`));
  expect(run('--frames', frames, '--keys', twice).err).toMatch(/Frame 1 has depth twice/);
  expect(run('--frames', frames, '--keys', keys, '--out', frames).err).toMatch(
    /--out must be another folder than --frames/,
  );
  expect(run('--frames', frames, '--keys', keys, '--out', keys).err).toMatch(
    /--out must be another folder than --keys/,
  );
  writeFileSync(join(dir, 'broken.mp4'), readFileSync(FILM).subarray(0, 4000));
  expect(run('--frames', join(dir, 'broken.mp4'), '--keys', keys).err).toMatch(
    /broken\.mp4 cannot be read: it is cut off or damaged/,
  );
  expect(run('--frames', frames, '--keys', keys, '--kind', 'colour').err).toMatch(/--kind takes depth, matte/);
  expect(existsSync(join(dir, 'none'))).toBe(false);
});
