import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { carryBehind } from '@/core/carry/behind/carryBehind';
import type { BehindFrame, CarriedBehind } from '@/core/carry/behind/frames';
import type { DepthMap, Mask, Picture8, Premultiplied8, Straight8 } from '@/core/raster/picture';
import { wholeScene } from '@/core/scene/sceneAt';
import { cutDepth } from '@/core/shot/cutPlate';
import { pushedOut } from '@/core/shot/hidden';
import { layOutPlates } from '@/core/shot/layOut';
import { holePush } from '@/core/shot/plates';
import type { CutPlate } from '@/core/shot/rasters';
import { renderView } from '@/core/view/renderView';
import { ROOT } from '../support/cli';
import { readMap, readPicture } from '../support/pictures';

// Four frames of the ray-traced clip, eleven and twelve apart, with their exact depth; the lantern and the free column
// are plates. What the right eye uncovers behind them is held against the true right eye (tests/data/clip, truth.json).

const CLIP = join(ROOT, 'tests/data/clip');
const FRAMES = [1, 12, 24, 36];
const [WIDE, HIGH] = [960, 600];
const N = WIDE * HIGH;
const truth = JSON.parse(readFileSync(join(CLIP, 'truth.json'), 'utf8')) as {
  camera_position_per_frame: [number, number, number][];
};
const named = (what: string, n: number): string => join(CLIP, `${what}_${String(n).padStart(4, '0')}.png`);

/** Where things stand in the scene, metres: the middle, how far to the sides and how far up and down. */
const THINGS: Readonly<
  Record<string, (share: number) => readonly [x: number, y: number, z: number, r: number, h: number]>
> = {
  lantern: (u) => [-0.5 + 1.78 * u, 1.95 + 0.05 * Math.sin(u * 5.2) + 0.05 * u, 6.3, 0.28, 0.55],
  column: () => [0.4, 4.52, 5.35, 0.2, 4.5],
};

/** What of a frame lies on a thing, by the frame's exact depth. */
function matteOf(depth: DepthMap, n: number, thing: string): Mask {
  const [cx, cy, cz] = truth.camera_position_per_frame[n - 1];
  const [x, y, z, r, h] = THINGS[thing]((n - 1) / 47);
  // Looked up once: in Jest's own world a global is slow.
  const { abs, floor } = Math;
  const data = depth.data.map((value, i) => {
    if (value === 0) return 0;
    const away = (2.7 * 65535) / value;
    const at = [(((i % WIDE) - 479.5) / 810) * away + cx, ((254.5 - floor(i / WIDE)) / 810) * away + cy, away + cz];
    return abs(at[0] - x) < r && abs(at[1] - y) < h && abs(at[2] - z) < r ? 255 : 0;
  });
  return { width: WIDE, height: HIGH, data: Uint8Array.from(data) };
}

interface Known extends BehindFrame {
  readonly plates: readonly (CutPlate & { readonly near: number; readonly far: number })[];
}

async function known(n: number): Promise<Known> {
  const depth = await readMap(named('depth', n));
  const hole: Mask = { width: WIDE, height: HIGH, data: new Uint8Array(N) };
  const plates = Object.keys(THINGS).map((id) => {
    const matte = matteOf(depth, n, id);
    const part = pushedOut(matte, holePush(WIDE))!;
    for (let y = 0, i = 0; y < part.height; y++)
      for (let x = 0; x < part.width; x++, i++)
        if (part.data[i]) hole.data[(part.top + y) * WIDE + part.left + x] = 255;
    const cut = cutDepth(depth, { near: 1, far: 0 }, matte);
    return { id, matte, ...cut };
  });
  plates.sort((a, b) => a.near + a.far - b.near - b.far);
  const picture = (await readPicture(named('frame', n))) as unknown as Picture8 as Straight8;
  return { picture, depth, hole, painted: undefined, plates };
}

/** The right eye's view of a frame, with that behind its plates. */
function rightOf(
  { picture, depth, plates }: Known,
  behind: { readonly fill: Straight8; readonly behind: DepthMap },
): Premultiplied8 {
  const scene = wholeScene({
    ...{ budget: { nearPx: -31.5, farPx: 0 }, sourceEye: 'centre', swapEyes: false, tearPx: 2 },
    ...{ source: { width: WIDE, height: HIGH }, depth: { near: 1, far: 0 } },
    plates: plates.map(({ id, near, far }) => ({ id, matte: 'cut', hidden: false, depth: { near, far } })),
  });
  const ground = picture as unknown as Premultiplied8;
  return renderView(scene, layOutPlates(ground, depth, plates, behind), 0.5).picture;
}

describe('what the right eye uncovers behind plates', () => {
  const found = new Map<number, { frame: Known; behind: CarriedBehind }>();
  beforeAll(async () => {
    const frames = await Promise.all(FRAMES.map(known));
    const view = { count: FRAMES.length, painted: [], frame: (k: number) => Promise.resolve(frames[k]) };
    for await (const behind of carryBehind(view))
      found.set(FRAMES[behind.frame], { frame: frames[behind.frame], behind });
  });

  test.each([12, 24])('of frame %i is borrowed above 21.5 dB, 3 dB above going on smoothly', async (n) => {
    const { frame, behind } = found.get(n)!;
    const { colours, depth, seen } = behind;
    expect(seen).toBeGreaterThan(0.85);
    const flat = (value: number): Straight8 => ({
      ...colours,
      data: colours.data.map((v, i) => (i % 4 === 3 ? v : value)),
    });
    const [black, white] = [0, 255].map((value) => rightOf(frame, { fill: flat(value), behind: depth }));
    const uncovered = Array.from({ length: N }, (_, i) => i).filter((i) => white.data[4 * i] - black.data[4 * i] > 200);
    const eye = await readPicture(named('right', n));
    const psnr = ({ data }: Premultiplied8): number => {
      let sum = 0;
      for (const i of uncovered) for (let c = 4 * i; c < 4 * i + 3; c++) sum += (data[c] - eye.data[c]) ** 2;
      return 10 * Math.log10((255 * 255) / (sum / (3 * uncovered.length)));
    };
    const smooth = { ...colours, data: new Uint8Array(4 * N) };
    const scores = {
      borrowed: psnr(rightOf(frame, { fill: colours, behind: depth })),
      smooth: psnr(rightOf(frame, { fill: smooth, behind: depth })),
    };
    if (process.env.CORK_TABLES) console.info(n, uncovered.length, seen, scores);
    expect(uncovered.length).toBeGreaterThan(3000);
    expect(scores.borrowed).toBeGreaterThan(21.5);
    expect(scores.borrowed).toBeGreaterThan(scores.smooth + 3);
  });
});
