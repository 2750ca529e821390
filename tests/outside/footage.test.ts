import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import type { FootageFile } from '@/server/media/footage/footageFile';
import { openFootageFile } from '@/server/media/footage/openFootage';
import { OPENCV, scratch } from '../support/cli';
import { animatedWebp, film, HIGH, numberInFile, numberOf, pictureZip, probed, WIDE } from '../support/film';

const dir = scratch();
const at = (name: string): string => join(dir, name);
const H264 = ['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-bf', '3', '-g', '48', '-crf', '14'];
const TAGGED = ['-vf', 'scale=out_color_matrix=bt709:out_range=tv', '-colorspace', 'bt709', '-color_range', 'tv'];

/** The numbers painted into frames, each sought by itself. */
async function sought(file: FootageFile, frames: readonly number[]): Promise<number[]> {
  const found: number[] = [];
  for (const n of frames) for await (const picture of file.frames(n, n + 1)) found.push(numberOf(picture));
  return found;
}

async function inOrder(file: FootageFile, from: number, to: number): Promise<number[]> {
  const found: number[] = [];
  for await (const picture of file.frames(from, to)) found.push(numberOf(picture));
  return found;
}

async function proxies(file: FootageFile, from: number): Promise<number[]> {
  const found: number[] = [];
  for await (const jpeg of file.proxies(from, 96)) found.push(await numberInFile(jpeg));
  return found;
}

const ffmpeg = (...words: string[]): Buffer => execFileSync('ffmpeg', ['-v', 'error', '-y', ...words]);
const upTo = (count: number): number[] => Array.from({ length: count }, (_, n) => n);

// Peer: ffprobe, which decodes and counts. The number of each frame is painted into it before it is coded.
test.each([
  ['b-frames.mp4', '24', [...H264, ...TAGGED], [24, 1]],
  ['moov.mov', '25', [...H264, ...TAGGED, '-movflags', '+faststart'], [25, 1]],
  [
    'vp9.webm',
    '30000/1001',
    ['-c:v', 'libvpx-vp9', '-b:v', '0', '-crf', '30', '-g', '40', '-deadline', 'realtime', '-cpu-used', '8'],
    [30000, 1001],
  ],
  ['long-groups.mkv', '24000/1001', [...H264, ...TAGGED, '-g', '100'], [24000, 1001]],
  ['single.avi', '15', ['-c:v', 'mjpeg', '-q:v', '3', '-pix_fmt', 'yuvj420p'], [15, 1]],
  ['moves.gif', '10', [], [10, 1]],
  ['moves.png', '12', ['-f', 'apng', '-plays', '0'], [12, 1]],
])(
  'every frame of %s is found, sought, in order and as a proxy',
  async (name, rate, words, [numerator, denominator]) => {
    const count = 60;
    const path = film(at(name), count, rate, words);
    const file = await openFootageFile(path, name);
    const peer = probed(path);
    expect(file.info).toMatchObject({ width: peer.width, height: peer.height, rate: { numerator, denominator } });
    expect(file.info.shows).toEqual(upTo(peer.frames));
    expect(peer.frames).toBe(count);
    const some = [0, 1, 2, 3, 23, 24, 25, 47, 48, 58, 59];
    expect(await sought(file, some)).toEqual(some);
    expect(await inOrder(file, 0, count)).toEqual(upTo(count));
    expect(await inOrder(file, 31, 40)).toEqual(upTo(40).slice(31));
    expect(await proxies(file, 0)).toEqual(upTo(count));
  },
);

test('a picture that moves and numbered pictures are read in their order', async () => {
  const webp = await openFootageFile(
    await animatedWebp(
      at('moves.webp'),
      Array.from({ length: 12 }, () => 100),
    ),
    'moves.webp',
  );
  expect(webp.info).toMatchObject({ width: WIDE, height: HIGH, rate: { numerator: 10, denominator: 1 } });
  expect(await sought(webp, [0, 5, 11])).toEqual([0, 5, 11]);
  expect(await proxies(webp, 0)).toEqual(upTo(12));
  // 10 comes after 9, also without noughts before it.
  const zip = await openFootageFile(await pictureZip(at('shot.zip'), 12, (n) => `shot/take ${n + 1}.png`), 'shot.zip');
  expect(zip.info).toMatchObject({
    width: WIDE,
    height: HIGH,
    bits: 8,
    rate: { numerator: 24, denominator: 1 },
    sound: null,
  });
  expect(await sought(zip, [0, 8, 9, 11])).toEqual([0, 8, 9, 11]);
  expect(await inOrder(zip, 3, 7)).toEqual([3, 4, 5, 6]);
  expect(await proxies(zip, 9)).toEqual([9, 10, 11]);
});

test('pictures that come at uneven times are laid out at one rate, and it is said', async () => {
  // Every fourth is left out: what is before it is seen for two frames.
  const path = film(at('uneven.mkv'), 40, '25', [
    ...H264,
    '-vf',
    "select='mod(n+1,4)',scale=out_color_matrix=bt709",
    '-fps_mode',
    'vfr',
  ]);
  const { info, ...file } = await openFootageFile(path, 'uneven.mkv');
  expect(info.told).toContain('its 30 pictures come at uneven times and were laid out as');
  expect(info.rate).toEqual({ numerator: 25, denominator: 1 });
  const frames = await inOrder({ info, ...file }, 0, 39);
  expect(frames).toEqual(upTo(39).map((n) => (n % 4 === 3 ? n - 1 : n)));
  expect(await sought({ info, ...file }, [6, 7, 8])).toEqual([6, 6, 8]);
});

test('a film is turned and its pixels are made square, as it says', async () => {
  film(at('lying.mp4'), 5, '24', [...H264, ...TAGGED]);
  ffmpeg('-i', at('lying.mp4'), '-c', 'copy', '-metadata:s:v', 'rotate=180', at('upside.mp4'));
  const upside = await openFootageFile(at('upside.mp4'), 'upside.mp4');
  expect(upside.info).toMatchObject({ width: WIDE, height: HIGH });
  expect(upside.info.told).toContain('turned as it says');
  for await (const { width, height, data } of upside.frames(4, 5)) {
    const turned = Uint8Array.from({ length: data.length }, (_, i) => data[data.length - 4 - (i - (i % 4)) + (i % 4)]);
    expect(numberOf({ width, height, data: turned })).toBe(4);
  }
  film(at('wide.mp4'), 4, '24', [...H264, '-vf', 'setsar=4/3', '-colorspace', 'bt709']);
  const wide = await openFootageFile(at('wide.mp4'), 'wide.mp4');
  expect(wide.info).toMatchObject({ width: (WIDE * 4) / 3, height: HIGH });
  expect(wide.info.told).toContain(`its pixels made square (${WIDE} × ${HIGH} px before)`);
  expect(await sought(wide, [3])).toEqual([3]);
});

const PATCHES = [
  [200, 60, 40],
  [40, 180, 70],
  [50, 70, 210],
  [190, 190, 60],
] as const;
/** Three frames of four patches beside each other. */
function patches(): Buffer {
  const frame = Buffer.alloc(WIDE * HIGH * 3);
  for (let i = 0, n = 0; i < frame.length; i += 3, n++) frame.set(PATCHES[Math.floor((n % WIDE) / 48)], i);
  return Buffer.concat([frame, frame, frame]);
}

// Peer: FFmpeg's own conversion to RGB. The same colours are stored by other numbers; each must come back the same.
test.each([
  ['bt709', 'tv'],
  ['bt709', 'pc'],
  ['smpte170m', 'tv'],
  ['smpte170m', 'pc'],
])('colours that are stored by %s, range %s, come back', async (matrix, range) => {
  const path = at(`${matrix}-${range}.mp4`);
  const stored = `scale=out_color_matrix=${matrix}:out_range=${range},format=yuv444p`;
  execFileSync(
    'ffmpeg',
    [
      ...['-v', 'error', '-y', '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-s', `${WIDE}x${HIGH}`, '-r', '24', '-i', '-'],
      ...['-vf', stored, '-c:v', 'libx264', '-crf', '1', '-colorspace', matrix, '-color_range', range, path],
    ],
    { input: patches() },
  );
  const file = await openFootageFile(path, 'colours.mp4');
  for await (const { data } of file.frames(1, 2))
    for (const [n, colour] of PATCHES.entries()) {
      const i = 4 * (60 * WIDE + 24 + 48 * n);
      // A step of luma and of both colours: at the most 1.2 + 1.8 + .5 grey levels (BT.709's factors).
      colour.forEach((v, k) => expect(Math.abs(data[i + k] - v)).toBeLessThanOrEqual(3));
    }
  for await (const jpeg of file.proxies(1, 96)) {
    const raw = await sharp(jpeg).raw().toBuffer();
    const i = 3 * (32 * 96 + 12);
    PATCHES[0].forEach((v, k) => expect(Math.abs(raw[i + k] - v)).toBeLessThanOrEqual(8));
    break;
  }
});

test('ten bits stay sixteen, sound is named with its length', async () => {
  film(at('deep.mkv'), 4, '24', ['-c:v', 'libx264', '-pix_fmt', 'yuv420p10le', '-crf', '8', '-colorspace', 'bt709']);
  const deep = await openFootageFile(at('deep.mkv'), 'deep.mkv');
  expect(deep.info.bits).toBe(16);
  for await (const picture of deep.frames(2, 3)) {
    expect(picture.bits).toBe(16);
    expect(numberOf({ ...picture, data: Array.from(picture.data, (v) => v >> 8) })).toBe(2);
  }
  film(at('silent.mp4'), 48, '24', [...H264, ...TAGGED]);
  const sine = ['-f', 'lavfi', '-i', 'sine=frequency=440:duration=2'];
  ffmpeg('-i', at('silent.mp4'), ...sine, '-c:v', 'copy', '-c:a', 'aac', at('sound.mp4'));
  const { sound } = (await openFootageFile(at('sound.mp4'), 'sound.mp4')).info;
  expect(sound?.codec).toBe('aac');
  expect(sound?.seconds).toBeCloseTo(2, 1);
});

test('what is longer than a minute is cut short, and it is said', async () => {
  const path = at('long.mp4');
  ffmpeg('-f', 'lavfi', '-i', 'testsrc=size=64x48:rate=5:duration=75', ...H264, path);
  const { info } = await openFootageFile(path, 'long.mp4');
  expect(info.shows).toHaveLength(300);
  expect(info.told).toContain('longer than 60 s: the first 60 s came in');
});

test('what is damaged, too large, or no film is refused by name', async () => {
  const refused = (name: string) =>
    openFootageFile(at(name), name).then(
      () => 'taken',
      (e: Error) => e.message,
    );
  film(at('whole.mp4'), 30, '24', [...H264, ...TAGGED]);
  const whole = readFileSync(at('whole.mp4'));
  writeFileSync(at('cut.mp4'), whole.subarray(0, whole.length / 2));
  expect(await refused('cut.mp4')).toMatch(/cut\.mp4 cannot be read: it is cut off or damaged/);
  writeFileSync(at('noise.mp4'), Buffer.concat([whole.subarray(0, 40), Buffer.alloc(4000, 7)]));
  expect(await refused('noise.mp4')).toMatch(/noise\.mp4 cannot be read/);
  ffmpeg('-f', 'lavfi', '-i', 'sine=duration=1', '-c:a', 'aac', at('only-sound.mp4'));
  expect(await refused('only-sound.mp4')).toMatch(/holds no moving pictures, only sound/);
  ffmpeg('-f', 'lavfi', '-i', 'color=size=4200x64:rate=5:duration=1', ...H264, at('wide-8k.mp4'));
  expect(await refused('wide-8k.mp4')).toMatch(/4200 × 64 px; footage may have up to 4096 px to a side/);
  ffmpeg(
    '-f',
    'lavfi',
    '-i',
    'testsrc=size=64x48:rate=5:duration=1',
    ...H264,
    '-color_trc',
    'smpte2084',
    at('hdr.mp4'),
  );
  expect(await refused('hdr.mp4')).toMatch(/high dynamic range or film \(smpte2084\)/);
  writeFileSync(
    at('text.mp4'),
    'this is no film at all, it is only text that is long enough to be looked at by its head',
  );
  expect(await refused('text.mp4')).toMatch(/no moving picture that can be read here/);
  await pictureZip(at('one.zip'), 1, () => 'a.png');
  expect(await refused('one.zip')).toMatch(/holds one picture/);
  writeFileSync(at('broken.zip'), readFileSync(at('one.zip')).subarray(0, 300));
  expect(await refused('broken.zip')).toMatch(/cannot be unpacked/);
});

// The end of a transport that broke off: what is there is there.
test('a Matroska file that breaks off is as long as what is there', async () => {
  film(at('all.mkv'), 60, '24', [...H264, ...TAGGED, '-g', '12']);
  const all = readFileSync(at('all.mkv'));
  writeFileSync(at('half.mkv'), all.subarray(0, Math.floor(all.length * 0.6)));
  const file = await openFootageFile(at('half.mkv'), 'half.mkv');
  const { length } = file.info.shows;
  expect(length).toBeGreaterThan(20);
  expect(length).toBeLessThan(50);
  const seen = await proxies(file, 0);
  // FFmpeg may give up a last picture that is not whole.
  expect(seen.length).toBeGreaterThanOrEqual(length - 4);
  expect(seen).toEqual(upTo(seen.length));
});

// A real film of a street: OpenCV reads the same frames.
test('a real film has as many frames as ffprobe counts', async () => {
  const path = join(OPENCV, 'vtest.avi');
  const file = await openFootageFile(path, 'vtest.avi');
  const peer = probed(path);
  expect(file.info).toMatchObject({ width: peer.width, height: peer.height });
  expect(file.info.shows.length).toBe(Math.min(peer.frames, 600));
});
