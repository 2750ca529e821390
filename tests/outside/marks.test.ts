import { execFile } from 'node:child_process';
import { join } from 'node:path';
import { promisify } from 'node:util';
import sharp from 'sharp';
import { depthFromMarks } from '@/core/depth/marks/depthFromMarks';
import { marksOf } from '@/core/depth/marks/marksOf';
import { markGround, type MarkGround } from '@/core/depth/marks/nodes';
import type { Mark } from '@/core/depth/marks/samples';
import { labOf } from '@/core/raster/lab';
import { pictureOf, type Picture8 } from '@/core/raster/picture';
import { seeded } from '../support/chance';
import { corkTwin, OPENCV, ROOT, scratch } from '../support/cli';
import { readMap } from '../support/pictures';
import { python } from '../support/python';

// Depth from marks of exact depth, beside what OpenCV offers (marks.py says what). Scenes: the orangery and the clip
// are ray traced with exact depth, Aloe is a photograph with measured depth (Scharstein and Pal, CVPR 2007). The
// marks in tests/data/marks are those that the recipe was found with; frame 36, with marks drawn here, was looked at
// by nobody.

const MARKS = join(ROOT, 'tests/data/marks');
const dir = scratch();

interface Scene {
  readonly picture: string;
  readonly truth: string;
}
const SCENES: Record<string, Scene> = {
  orangery: { picture: join(ROOT, 'demo/orangery/centre.png'), truth: join(ROOT, 'demo/orangery/depth16.png') },
  clip24: {
    picture: join(ROOT, 'tests/data/clip/frame_0024.png'),
    truth: join(ROOT, 'tests/data/clip/depth_0024.png'),
  },
  aloe: { picture: join(OPENCV, 'aloeL.jpg'), truth: join(OPENCV, 'aloeGT.png') },
  clip36: {
    picture: join(ROOT, 'tests/data/clip/frame_0036.png'),
    truth: join(ROOT, 'tests/data/clip/depth_0036.png'),
  },
};

type Score = readonly [mean: number, edges: number];
type Peers = Record<'nearest' | 'delaunay' | 'smoother' | 'guided', Score>;

interface Opened {
  readonly picture: Picture8;
  readonly ground: MarkGround;
  readonly truth: Float32Array;
  readonly known: Uint8Array;
  readonly band: Uint8Array;
}

async function open({ picture, truth }: Scene, grey = false): Promise<Opened> {
  const { data, info } = await sharp(picture)
    .toColourspace('srgb')
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const { width, height } = info;
  if (grey)
    for (let i = 0; i < data.length; i += 4)
      data.fill(Math.round(0.299 * data[i] + 0.587 * data[i + 1] + 0.114 * data[i + 2]), i, i + 3);
  const map = await readMap(truth);
  const depths = new Float32Array(width * height);
  for (let i = 0; i < depths.length; i++) depths[i] = map.data[i] / 65535;
  // In Aloe's measured depth 0 says that nothing is known.
  const known = Uint8Array.from(depths, (v) => (v > 0 || truth !== SCENES.aloe.truth ? 1 : 0));
  const band = new Uint8Array(known.length);
  const step = (i: number, j: number): boolean => known[i] + known[j] === 2 && Math.abs(depths[i] - depths[j]) > 0.03;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const across = x + 1 < width && step(i, i + 1);
      const down = y + 1 < height && step(i, i + width);
      if (!across && !down) continue;
      for (let v = Math.max(0, y - 6); v <= Math.min(height - 1, y + 6 + (down ? 1 : 0)); v++)
        band.fill(1, v * width + Math.max(0, x - 6), v * width + Math.min(width, x + 7 + (across ? 1 : 0)));
    }
  const opened = pictureOf({ width, height }, new Uint8Array(data), 'straight');
  return { picture: opened, ground: markGround(opened), truth: depths, known, band };
}

function score({ truth, known, band }: Opened, depth: Float32Array): Score {
  let [sum, many, atEdges, edges] = [0, 0, 0, 0];
  for (let i = 0; i < depth.length; i++) {
    if (!known[i]) continue;
    const off = 100 * Math.abs(depth[i] - truth[i]);
    sum += off;
    many++;
    if (band[i]) {
      atEdges += off;
      edges++;
    }
  }
  return [sum / many, atEdges / edges];
}

const read16 = async (path: string) => {
  const { data, info } = await sharp(path)
    .toColourspace('rgb16')
    .raw({ depth: 'ushort' })
    .toBuffer({ resolveWithObject: true });
  return pictureOf(info, new Uint16Array(data.buffer, data.byteOffset, data.length / 2), 'straight');
};

/** Strokes of exact depth as somebody would draw them: along what is equally deep, each of one value. */
function drawn({ picture: { width, height }, truth }: Opened, seed: number, strokes: number): Mark[] {
  const random = seeded(seed);
  const marks: Mark[] = [];
  while (marks.length < strokes) {
    let x = random() * width;
    let y = random() * height;
    const turn = random() * 2 * Math.PI;
    const pixels = new Set<number>();
    const at = (u: number, v: number): number => Math.floor(v) * width + Math.floor(u);
    const first = truth[at(x, y)];
    for (let n = 0; n < 110; n++, x += Math.cos(turn), y += Math.sin(turn)) {
      if (x < 5 || y < 5 || x >= width - 5 || y >= height - 5 || Math.abs(truth[at(x, y)] - first) > 0.03) break;
      for (let v = -4; v <= 4; v++)
        for (let u = -4; u <= 4; u++)
          if (u * u + v * v <= 16 && Math.abs(truth[at(x + u, y + v)] - first) < 0.04) pixels.add(at(x + u, y + v));
    }
    if (pixels.size < 200) continue;
    const all = [...pixels];
    marks.push({ pixels: all, depth: all.reduce((sum, i) => sum + truth[i], 0) / all.length });
  }
  return marks;
}

async function writeMarks(path: string, { width, height }: Picture8, marks: readonly Mark[]): Promise<void> {
  const data = new Uint16Array(width * height * 4);
  for (const { pixels, depth } of marks)
    for (const i of Array.from(pixels)) data.set([0, 0, 0].map(() => Math.round(depth! * 65535)).concat(65535), i * 4);
  await sharp(data, { raw: { width, height, channels: 4 } })
    .toColourspace('rgb16')
    .png()
    .toFile(path);
}

/** What the peers make of some jobs, meanwhile. */
async function peersOf(jobs: readonly (readonly [Scene, string, 'colour' | 'grey'])[]): Promise<Peers[]> {
  const args = jobs.map(([{ picture, truth }, marks, how]) => [picture, truth, marks, how].join('|'));
  const { stdout } = await promisify(execFile)('/usr/bin/python3', [join(__dirname, 'marks.py'), ...args]);
  return stdout
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as Peers);
}
const best = (peers: Peers): number => Math.min(...Object.values(peers).map(([mean]) => mean));
const mean = (...values: number[]): number => values.reduce((a, b) => a + b, 0) / values.length;
const say = (...what: unknown[]): void => {
  if (process.env.CORK_TABLES) console.info(...what);
};

// Mean error of the study in % of full scale, over both sets of marks, and whether ours must be below 0.8 of the best
// other. With 0.3 % on clip24 it is not: the study's best other is at 15.9 there, but planes between marks that go on
// to the picture's corners, as here, reach 14.0.
const STUDIED: Record<string, Record<string, readonly [limit: number, clearly: boolean]>> = {
  orangery: { '1pc': [5.96, true], '03pc': [9.44, false], artist: [7.03, false] },
  clip24: { '1pc': [8.64, true], '03pc': [12.2, false], artist: [6.8, true] },
  aloe: { '1pc': [3.44, true], '03pc': [4.46, false], artist: [4.04, true] },
};

describe.each(['orangery', 'clip24', 'aloe'])('marks of exact depth on %s', (name) => {
  const kinds = ['1pc', '03pc', 'artist'];
  const ours: Record<string, Score[]> = {};
  const peers: Record<string, Peers[]> = {};
  beforeAll(async () => {
    const jobs = kinds.flatMap((kind) =>
      [1, 2].map((seed) => ({ kind, path: join(MARKS, `${name}-${kind}-${seed}.png`) })),
    );
    const asked = peersOf(jobs.map(({ path }) => [SCENES[name], path, 'colour'] as const));
    const scene = await open(SCENES[name]);
    for (const { kind, path } of jobs)
      (ours[kind] ??= []).push(
        score(scene, depthFromMarks(scene.picture, scene.ground, marksOf(await read16(path)), { exact: true })!),
      );
    (await asked).forEach((answer, n) => (peers[jobs[n].kind] ??= []).push(answer));
    say(name, JSON.stringify({ ours, peers }));
  });

  test.each(kinds)('%s: as near to the truth as the study, by 3 %', (kind) => {
    expect(mean(...ours[kind].map(([m]) => m))).toBeLessThan(1.03 * STUDIED[name][kind][0]);
  });

  test.each(kinds)('%s: nearer than any of the others, also at edges', (kind) => {
    const other = mean(...peers[kind].map(best));
    expect(mean(...ours[kind].map(([m]) => m))).toBeLessThan((STUDIED[name][kind][1] ? 0.8 : 1) * other);
    for (const peer of ['nearest', 'delaunay', 'smoother', 'guided'] as const)
      expect(mean(...ours[kind].map(([, e]) => e))).toBeLessThan(mean(...peers[kind].map((p) => p[peer][1])));
  });
});

describe('kept aside: frame 36 of the clip', () => {
  test('strokes that nobody has seen: nearer than any of the others', async () => {
    const scene = await open(SCENES.clip36);
    const sets = [1, 2, 3].map((seed) => drawn(scene, seed, 22));
    const paths = await Promise.all(
      sets.map(async (marks, n) => {
        const path = join(dir, `aside-${n}.png`);
        await writeMarks(path, scene.picture, marks);
        return path;
      }),
    );
    const asked = peersOf(paths.map((path) => [SCENES.clip36, path, 'colour'] as const));
    const ours = sets.map((marks) =>
      score(scene, depthFromMarks(scene.picture, scene.ground, marks, { exact: true })!),
    );
    const peers = await asked;
    say('clip36', JSON.stringify({ ours, peers }));
    expect(mean(...ours.map(([m]) => m))).toBeLessThan(0.8 * mean(...peers.map(best)));
  });
});

describe('where a picture is grey', () => {
  test.each(['clip24'])('%s: not worse than the smoother', async (name) => {
    const paths = ['1pc', '03pc', 'artist'].map((kind) => join(MARKS, `${name}-${kind}-1.png`));
    const asked = peersOf(paths.map((path) => [SCENES[name], path, 'grey'] as const));
    const scene = await open(SCENES[name], true);
    const ours: number[] = [];
    for (const path of paths)
      ours.push(
        score(scene, depthFromMarks(scene.picture, scene.ground, marksOf(await read16(path)), { exact: true })!)[0],
      );
    const peers = await asked;
    say('grey', name, JSON.stringify({ ours, peers }));
    ours.forEach((off, n) => {
      expect(off).toBeLessThan(peers[n].smoother[0]);
    });
  });
});

test('the command makes a 16-bit map at the picture’s size', async () => {
  const out = join(dir, 'depth.png');
  const { status, err } = corkTwin(
    ...['depth-from-marks', '--picture', SCENES.clip24.picture],
    ...['--marks', join(MARKS, 'clip24-artist-1.png'), '--out', out],
  );
  expect([status, err]).toEqual([0, '']);
  expect(await sharp(out).metadata()).toMatchObject({ width: 960, height: 600, depth: 'ushort', channels: 1 });
  const scene = await open(SCENES.clip24);
  const marks = marksOf(await read16(join(MARKS, 'clip24-artist-1.png')));
  const depth = depthFromMarks(scene.picture, scene.ground, marks, { exact: true })!;
  const written = await readMap(out);
  for (let i = 0; i < depth.length; i += 101)
    expect(Math.abs(written.data[i] - depth[i] * 65535)).toBeLessThanOrEqual(1);
});

test('marks of another size, and marks that are none, are refused by name', () => {
  const wrong = corkTwin(
    'depth-from-marks',
    '--picture',
    SCENES.clip24.picture,
    '--marks',
    join(MARKS, 'aloe-1pc-1.png'),
    '--out',
    join(dir, 'x.png'),
  );
  expect(wrong.status).toBe(1);
  expect(wrong.err).toMatch(/aloe-1pc-1\.png is 1282 × 1110 px but frame_0024\.png is 960 × 600 px/);
  const none = corkTwin(
    'depth-from-marks',
    '--picture',
    SCENES.clip24.picture,
    '--marks',
    SCENES.clip24.picture,
    '--out',
    join(dir, 'x.png'),
  );
  expect(none.status).toBe(1);
  expect(none.err).toMatch(/marks/);
});

test('CIELAB is OpenCV’s', async () => {
  const { picture } = await open(SCENES.clip24);
  const path = join(dir, 'some.png');
  await sharp(picture.data, { raw: { width: picture.width, height: picture.height, channels: 4 } })
    .removeAlpha()
    .png()
    .toFile(path);
  const theirs = JSON.parse(
    python(
      `import cv2, sys, json
a = cv2.cvtColor(cv2.imread(sys.argv[1]).astype("float32") / 255, cv2.COLOR_BGR2LAB)
print(json.dumps(a.reshape(-1, 3)[::997].tolist()))`,
      [path],
    ),
  ) as number[][];
  const ours = labOf(picture);
  // OpenCV reads CIELAB of floats off a table of 33 x 33 x 33 colours (from memory); between its corners it is off by
  // some quarter of a step.
  theirs.forEach((lab, n) => {
    lab.forEach((v, c) => {
      expect(Math.abs(ours[n * 997 * 3 + c] - v)).toBeLessThan(0.4);
    });
  });
});
