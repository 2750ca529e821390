import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { pictureOf } from '@/core/raster/picture';
import { writeVideo } from '@/server/media/video/encode';
import { corkTwin, scratch } from '../support/cli';

// What 'cork-twin move' writes, read by FFmpeg's prober, not by us; and what it refuses.

const dir = scratch();
const picture = join(dir, 'picture.png');
const deep = join(dir, 'deep.png');
const depth = join(dir, 'depth.png');
const camera = join(dir, 'camera.json');
const [width, height] = [160, 90];
const KEYS = [
  { frame: 0, ease: 'gentle' },
  { frame: 11, position: [0.05, 0.01, 0.1], roll: 2, ease: 'linear' },
];
const CAMERA = { version: 1, fps: 29.97, frames: 12, focalPx: 150, near: 2, far: 12, keys: KEYS };

beforeAll(async () => {
  const raw = { width, height, channels: 3 as const };
  const noise = Uint16Array.from({ length: width * height * 3 }, (_, i) => Math.imul(i + 3, 2654435761) >>> 16);
  await sharp(noise, { raw }).toColourspace('rgb16').png().toFile(deep);
  await sharp(
    Uint8Array.from(noise, (v) => v >> 8),
    { raw },
  )
    .png()
    .toFile(picture);
  const grey = Uint8Array.from({ length: width * height }, (_, i) =>
    i % width > 50 && i % width < 90 ? 220 : (i / width) * 2,
  );
  await sharp(grey, { raw: { width, height, channels: 1 } })
    .png()
    .toFile(depth);
  writeFileSync(camera, JSON.stringify(CAMERA));
});

const move = (out: string, ...more: string[]) =>
  corkTwin('move', '--picture', picture, '--depth', depth, '--camera', camera, '--out', join(dir, out), ...more);

interface Probed {
  readonly streams: readonly Readonly<Record<string, string | number>>[];
}
const probe = (name: string): Probed['streams'][number] => {
  const words = ['-v', 'error', '-count_frames', '-show_streams', '-of', 'json', join(dir, name)];
  return (JSON.parse(execFileSync('ffprobe', words, { encoding: 'utf8' })) as Probed).streams[0];
};

describe('cork-twin move writes', () => {
  test('numbered frames; at rest the source itself, also of 16 bits', async () => {
    const { status, out } = move('frames', '--frames', '1-3', '--json');
    expect(status).toBe(0);
    expect(JSON.parse(out)).toMatchObject({ width, height, fps: 29.97, frames: 3, openedShare: { length: 3 } });
    expect(readdirSync(join(dir, 'frames')).sort()).toEqual(['frame_0001.png', 'frame_0002.png', 'frame_0003.png']);
    const pixels = (path: string) => sharp(path).raw({ depth: 'ushort' }).toBuffer();
    expect((await pixels(join(dir, 'frames/frame_0001.png'))).equals(await pixels(picture))).toBe(true);
    expect((await pixels(join(dir, 'frames/frame_0003.png'))).equals(await pixels(picture))).toBe(false);
    const words = [
      '--picture',
      deep,
      '--depth',
      depth,
      '--camera',
      camera,
      '--frames',
      '1-1',
      '--out',
      join(dir, 'deep'),
    ];
    expect(corkTwin('move', ...words).status).toBe(0);
    const frame = sharp(join(dir, 'deep/frame_0001.png'));
    expect(await frame.metadata()).toMatchObject({ depth: 'ushort', width, height });
    expect(
      (await frame.toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer()).equals(
        await sharp(deep).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer(),
      ),
    ).toBe(true);
  });

  const TAGS = {
    color_space: 'bt709',
    color_primaries: 'bt709',
    color_transfer: 'bt709',
    color_range: 'tv',
    pix_fmt: 'yuv420p',
  };
  test.each([
    ['a.mp4', { codec_name: 'h264', ...TAGS }],
    ['b.webm', { codec_name: 'vp9', ...TAGS }],
    ['c.gif', { codec_name: 'gif' }],
  ])('%s: size, frames, rate and colours as FFmpeg reads them', (name, expected) => {
    expect(move(name, '--size', '128x96', '--eye', 'left')).toMatchObject({ status: 0, err: '' });
    const found = probe(name);
    expect(found).toMatchObject({ ...expected, width: 128, height: 96, nb_read_frames: '12' });
    // GIF counts in hundredths of a second.
    if (!name.endsWith('gif')) expect(found.r_frame_rate).toBe('30000/1001');
  });

  test('the eyes differ from the camera, and from each other', () => {
    for (const eye of ['left', 'centre', 'right']) move(`eye-${eye}`, '--frames', '6-6', '--eye', eye);
    const files = ['left', 'centre', 'right'].map((eye) =>
      readFileSync(join(dir, `eye-${eye}/frame_0006.png`)).toString('base64'),
    );
    expect(new Set(files).size).toBe(3);
  });
});

describe('a video is there whole, or not at all', () => {
  test('given up, it leaves nothing', async () => {
    const folder = join(dir, 'given-up');
    mkdirSync(folder);
    const writer = writeVideo(join(folder, 'a.mp4'), { width: 64, height: 48, format: 'mp4', fps: 24 });
    await writer.frame(pictureOf({ width: 64, height: 48 }, new Uint8Array(64 * 48 * 4), 'straight'));
    await writer.abort();
    expect(readdirSync(folder)).toEqual([]);
  });
  test('where it cannot be written, that is said of it', () => {
    const { status, err } = move('nowhere/a.mp4');
    expect(status).toBe(1);
    expect(err).toContain('nowhere/a.mp4 could not be written as video');
    expect(existsSync(join(dir, 'nowhere'))).toBe(false);
  });
});

describe('cork-twin move refuses', () => {
  test.each([
    [['--size', '12x9'], 2, '--size takes a width and a height'],
    [['--frames', '5-2'], 2, '--frames takes the first and the last'],
    [['--eye', 'third'], 2, "not 'third'"],
    [['--frames', '5-40'], 1, 'The move has frames 1 to 12'],
  ])('%j', (words, status, says) => {
    const run = move('refused', ...words);
    expect(run.status).toBe(status);
    expect(run.err).toContain(says);
  });
  test('other files than it writes, odd sizes for videos, wrong cameras by the field', () => {
    expect(move('no.avi')).toMatchObject({ status: 2, err: expect.stringContaining('.mp4, .webm or .gif') as string });
    expect(move('odd.mp4', '--size', '127x96')).toMatchObject({
      status: 1,
      err: expect.stringContaining('Choose 126 × 96 px') as string,
    });
    writeFileSync(join(dir, 'bad.json'), JSON.stringify({ ...CAMERA, keys: [{ frame: 0, pan: 'left' }] }));
    const words = [
      '--picture',
      picture,
      '--depth',
      depth,
      '--camera',
      join(dir, 'bad.json'),
      '--out',
      join(dir, 'bad'),
    ];
    expect(corkTwin('move', ...words)).toMatchObject({
      status: 1,
      err: expect.stringContaining('bad.json: keys[0].pan') as string,
    });
    expect(corkTwin('move', '--picture', picture, '--depth', depth, '--out', 'x')).toMatchObject({
      status: 2,
      err: expect.stringContaining('--camera is needed') as string,
    });
    mkdirSync(join(dir, 'none'));
    expect(existsSync(join(dir, 'odd.mp4'))).toBe(false);
  });
});
