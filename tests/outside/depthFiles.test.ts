import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { ditherToEightBits } from '@/core/depth/ditherToEightBits';
import type { DepthMap } from '@/core/raster/picture';
import { depthFileOf, readDepthFile, type DepthFormat } from '@/server/media/depthFile';
import { seeded } from '../support/chance';
import { corkTwin, scratch } from '../support/cli';
import { readMap } from '../support/pictures';
import { python } from '../support/python';

// Depth in and out of files: read by OpenCV and by FFmpeg, which nobody here wrote.

const dir = scratch();
const at = (name: string): string => join(dir, name);
const width = 300;
const height = 221;
/** Every value of 16 bits, in some order. */
const all: DepthMap = {
  width,
  height,
  data: (() => {
    const random = seeded(3);
    const data = Uint16Array.from({ length: width * height }, (_, i) => i % 65536);
    for (let i = data.length - 1; i > 0; i--) {
      const j = Math.floor(random() * (i + 1));
      [data[i], data[j]] = [data[j], data[i]];
    }
    return data;
  })(),
};
const convert = (from: string, to: string, ...more: string[]) =>
  corkTwin('depth-convert', '--in', at(from), '--out', at(to), ...more);
/** Values as OpenCV reads them. */
const byOpenCv = (name: string): number[] =>
  JSON.parse(
    python(
      `import os; os.environ["OPENCV_IO_ENABLE_OPENEXR"] = "1"
import cv2, sys, json
a = cv2.imread(sys.argv[1], -1); print(json.dumps([list(a.shape)] + a.ravel().astype(float).tolist()))`,
      [at(name)],
    ),
  ) as number[];
/** Values as FFmpeg reads them, as 32-bit floats. */
function byFfmpeg(name: string): Float32Array {
  const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', at(name), '-f', 'rawvideo', '-pix_fmt', 'grayf32le', '-'], {
    maxBuffer: 1 << 28,
  });
  return new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length));
}

beforeAll(async () => {
  writeFileSync(at('all.png'), await depthFileOf(all, 'png'));
});

describe('16-bit values', () => {
  test('go through every format, one after another, bit for bit', async () => {
    const way = ['all.png', 'a.tif', 'b.exr', 'c.pfm', 'd.png'];
    for (let n = 1; n < way.length; n++) expect(convert(way[n - 1], way[n])).toMatchObject({ status: 0, err: '' });
    expect((await readMap(at('d.png'))).data).toEqual(all.data);
    // And as distances, in floats of each kind.
    const range = ['--near-distance', '1.5', '--far-distance', '40'];
    for (const name of ['m.exr', 'm.pfm', 'm.tif']) {
      expect(convert('all.png', name, ...range).status).toBe(0);
      expect(convert(name, `${name}.png`, ...range).status).toBe(0);
      expect((await readMap(at(`${name}.png`))).data).toEqual(all.data);
    }
  });

  test.each(['b.exr', 'c.pfm'])('%s: read by OpenCV and by FFmpeg', (name) => {
    const [shape, ...theirs] = byOpenCv(name) as unknown as [number[], ...number[]];
    expect(shape).toEqual([height, width]);
    const ffmpeg = byFfmpeg(name);
    // FFmpeg 5.1 hands a float map's rows over as they lie in the file, from below; so it does with OpenCV's.
    const row = (y: number): number => (name.endsWith('.pfm') ? height - 1 - y : y);
    for (let i = 0; i < all.data.length; i += 31) {
      expect(Math.round(theirs[i] * 65535)).toBe(all.data[i]);
      expect(Math.round(ffmpeg[row(Math.floor(i / width)) * width + (i % width)] * 65535)).toBe(all.data[i]);
    }
  });

  test('distances are the inverse of depth between near and far, by OpenCV’s reading', () => {
    for (const name of ['m.exr', 'm.pfm', 'm.tif']) {
      const [, ...theirs] = byOpenCv(name);
      for (let i = 0; i < all.data.length; i += 31) {
        const d = all.data[i] / 65535;
        const z = 1 / (d / 1.5 + (1 - d) / 40);
        // A float of 24 bits.
        expect(Math.abs(theirs[i] - z)).toBeLessThanOrEqual(z * 2 ** -23);
      }
    }
  });
});

describe('what others write', () => {
  beforeAll(() => {
    python(
      `import os; os.environ["OPENCV_IO_ENABLE_OPENEXR"] = "1"
import cv2, sys, numpy as np
d = sys.argv[1] + '/'
a = (np.arange(60 * 40, dtype=np.float32).reshape(40, 60) / 2399)
cv2.imwrite(d + 'cv.exr', a); cv2.imwrite(d + 'half.exr', a, [cv2.IMWRITE_EXR_TYPE, cv2.IMWRITE_EXR_TYPE_HALF])
cv2.imwrite(d + 'colour.exr', np.dstack([a * 0, a * 0, a])); cv2.imwrite(d + 'cv.pfm', a); cv2.imwrite(d + 'cv.tif', a)
cv2.imwrite(d + 'metres.exr', 1 / (a / 2 + (1 - a) / 30))
open(d + 'big.pfm', 'wb').write(b'Pf 60 40 1.0\\n' + a[::-1].astype('>f4').tobytes())`,
      [dir],
    );
  });
  const ramp = (i: number): number => (i / 2399) * 65535;

  test.each([
    ['cv.exr', 0.5],
    ['colour.exr', 0.5],
    ['cv.pfm', 0.5],
    ['big.pfm', 0.5],
    ['cv.tif', 0.5],
    // Halves have 11 bits.
    ['half.exr', 65535 * 2 ** -12 + 0.5],
  ])('%s is read', async (name, off) => {
    const map = await readDepthFile(at(name), name, { whiteIsNear: true, mend: false });
    expect([map.width, map.height]).toEqual([60, 40]);
    for (let i = 0; i < 2400; i += 7) expect(Math.abs(map.data[i] - ramp(i))).toBeLessThanOrEqual(off + 1e-6);
  });

  test('distances, and their inverse, become depth by the range that is given', async () => {
    const metric = await readDepthFile(at('metres.exr'), 'metres.exr', {
      ...{ whiteIsNear: true, mend: false },
      floats: { kind: 'distance', near: 2, far: 30 },
    });
    const inverse = await readDepthFile(at('cv.pfm'), 'cv.pfm', {
      ...{ whiteIsNear: true, mend: false },
      floats: { kind: 'inverse', near: 0.5, far: 0.25 },
    });
    for (let i = 0; i < 2400; i += 7) {
      expect(Math.abs(metric.data[i] - ramp(i))).toBeLessThanOrEqual(1);
      const share = Math.min(1, Math.max(0, (i / 2399 - 0.25) / 0.25));
      expect(Math.abs(inverse.data[i] - share * 65535)).toBeLessThanOrEqual(1);
    }
  });
});

describe('what cannot be read says why', () => {
  test.each([
    ['metres.exr', [], /no depths of 0 to 1.*say how far/s],
    ['b.exr', ['--near-distance', '5', '--far-distance', '2'], /nearest distance must be more than 0/],
    ['b.exr', ['--near-distance', '5'], /go together/],
  ] as const)('%s %j', (name, more, why) => {
    const { status, err } = convert(name, 'x.png', ...more);
    expect(status).not.toBe(0);
    expect(err).toMatch(why);
  });

  test('files that are cut off, or are none', () => {
    for (const name of ['b.exr', 'c.pfm', 'm.tif']) {
      const whole = readFileSync(at(name));
      writeFileSync(at(`cut-${name}`), whole.subarray(0, whole.length >> 1));
      const { status, err } = convert(`cut-${name}`, 'x.png');
      expect([name, status]).toEqual([name, 1]);
      expect(err).toMatch(/cut off|damaged|no depths/);
      writeFileSync(at(`head-${name}`), whole.subarray(0, 20));
      expect(convert(`head-${name}`, 'x.png').status).toBe(1);
    }
    // A header that asks for more than can be worked on is refused before anything is read.
    writeFileSync(at('huge.pfm'), 'Pf\n90000 90000\n-1.0\n');
    expect(convert('huge.pfm', 'x.png').err).toMatch(/90000 × 90000 px/);
    expect(convert('all.png', 'x.bmp').err).toMatch(/must end in/);
  });
});

test.each(['png', 'png8', 'tif', 'tif32', 'exr'] as const)(
  'a written %s says what its values mean',
  async (format: DepthFormat) => {
    const bytes = Buffer.from(await depthFileOf(all, format));
    expect(bytes.includes('linear in inverse distance')).toBe(true);
    const metric = Buffer.from(await depthFileOf(all, 'exr', { near: 2, far: 9 }));
    expect(metric.includes('Distance from the eye, 2 nearest to 9 farthest')).toBe(true);
  },
);

test('8 bits leave the house dithered: slopes are kept in the mean, where rounding makes terraces', async () => {
  const slope: DepthMap = {
    width: 256,
    height: 256,
    data: Uint16Array.from({ length: 65536 }, (_, i) => 20000 + (i % 256) * 4),
  };
  const eight = ditherToEightBits(slope);
  for (let x = 8; x < 248; x++) {
    let [sum, rounded] = [0, 0];
    for (let y = 0; y < 256; y++)
      for (let u = x - 4; u < x + 4; u++) {
        sum += eight[y * 256 + u];
        rounded += Math.round(slope.data[y * 256 + u] / 257);
      }
    const truth = (20000 + (x - 0.5) * 4) / 257;
    // The last row keeps what it could hand on to nobody: some 8 of 2048 values off by one at most.
    expect(Math.abs(sum / 2048 - truth)).toBeLessThan(0.03);
    if (x === 100) expect(Math.abs(rounded / 2048 - truth)).toBeGreaterThan(0.1);
  }
  const file = await sharp(Buffer.from(await depthFileOf(slope, 'png8'))).metadata();
  expect(file).toMatchObject({ depth: 'uchar', channels: 1 });
});

test('the command makes a start, by cues that are given, and refuses others by name', async () => {
  const picture = at('picture.png');
  await sharp({ create: { width: 90, height: 60, channels: 3, background: '#6a8' } })
    .png()
    .toFile(picture);
  const run = (...cues: string[]) =>
    corkTwin('depth-generate', '--picture', picture, '--out', at('start.png'), ...cues);
  const ground = JSON.stringify({ shape: 'ground', saliency: 0, sky: false, edges: 0, vanishing: { x: 0.5, y: 0.25 } });
  expect(run('--cues', ground)).toMatchObject({ status: 0, err: '' });
  const map = await readMap(at('start.png'));
  expect([map.width, map.height]).toEqual([90, 60]);
  for (let y = 0; y < 60; y += 5) {
    const truth = Math.max(0, ((y + 0.5) / 60 - 0.25) / 0.75);
    expect(Math.abs(map.data[y * 90 + 40] / 65535 - truth)).toBeLessThan(0.001);
  }
  expect(run('--cues', '{').err).toMatch(/takes JSON/);
  expect(run('--cues', '{"haze": 7}').err).toMatch(/haze/);
  expect(run('--cues', '{"mist": 1}').err).toMatch(/mist/);
});
