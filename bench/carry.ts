import { join } from 'node:path';
import sharp from 'sharp';
import { inverseSearch } from '@/core/flow/inverseSearch';
import { halfOf, type Plane } from '@/core/flow/plane';
import { carryBehind } from '@/core/carry/behind/carryBehind';
import type { BehindFrame, BehindFrames } from '@/core/carry/behind/frames';
import { carryDepth, type DepthKey } from '@/core/carry/carryDepth';
import type { Frames } from '@/core/carry/carryKeys';
import { carryMatte } from '@/core/carry/carryMatte';
import { toDepthMap } from '@/core/depth/toDepthMap';
import { toEightBits, type Mask, type Picture8 } from '@/core/raster/picture';
import { readDepthFile } from '@/server/media/depthFile';
import { openVideo } from '@/server/media/footage/videoFile';
import { readMatteFile } from '@/server/media/matteFile';
import { pythonJson } from './python';
import { cpuMs, ms, row, section, times } from './report';

const CLIP = join(__dirname, '../tests/data/clip');

async function grey(path: string): Promise<Plane> {
  const { data, info } = await sharp(path).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  const plane = new Float32Array(info.width * info.height);
  for (let i = 0; i < plane.length; i++)
    plane[i] = 0.299 * data[3 * i] + 0.587 * data[3 * i + 1] + 0.114 * data[3 * i + 2];
  return { width: info.width, height: info.height, data: plane };
}

/** What carrying through time costs, beside OpenCV. */
export async function benchCarry(): Promise<void> {
  const paths = ['0001', '0012'].map((n) => join(CLIP, `frame_${n}.png`));
  const { dis } = pythonJson<{ dis: number }>(
    `
import cv2, json, time
cv2.setNumThreads(1)
a, b = (cv2.cvtColor(cv2.imread(p), cv2.COLOR_BGR2GRAY) for p in ${JSON.stringify(paths)})
d = cv2.DISOpticalFlow_create(cv2.DISOPTICAL_FLOW_PRESET_MEDIUM)
best = 1e9
for _ in range(5): t = time.process_time(); d.calc(a, b, None); best = min(best, time.process_time() - t)
print(json.dumps({'dis': best * 1e3}))`,
  );
  const [a, b] = [await grey(paths[0]), await grey(paths[1])];
  const megapixels = (a.width * a.height) / 1e6;
  const [halfA, halfB] = [halfOf(a), halfOf(b)];
  const half = cpuMs(() => inverseSearch(halfA, halfB), 6);
  const full = cpuMs(() => inverseSearch(a, b), 4);
  section('Flow, one core', 'Frames 1 and 12 of the demo clip, 960 x 600 px; a megapixel of the frame.');
  row('at half the size, as carrying looks for it', ms(half / megapixels));
  row('  beside OpenCV DIS medium', times(half / dis), { text: '0.25 of its time', met: half / dis <= 0.25 });
  row('at full size', ms(full / megapixels));
  row('  beside OpenCV DIS medium', times(full / dis));
  await benchFrames(dis);
}

/** So many frames of the clip are carried. */
const FRAMES = 13;

/** What a carried frame costs, depth and a matte. @param dis what OpenCV's flow takes for one frame and way, ms */
async function benchFrames(dis: number): Promise<void> {
  const film = await openVideo(join(__dirname, '../demo/drift/clip.mp4'), 'clip.mp4');
  const pictures: Picture8[] = [];
  for await (const picture of film.frames(0, FRAMES)) pictures.push(toEightBits(picture));
  const frames = { count: FRAMES, frame: (n: number) => Promise.resolve(pictures[n]) };
  const depthKey = async (n: number): Promise<DepthKey> => {
    const name = `depth_${String(n + 1).padStart(4, '0')}.png`;
    return { frame: n, depth: await readDepthFile(join(CLIP, name), name, { whiteIsNear: true, mend: false }) };
  };
  const keys = [await depthKey(0), await depthKey(11)];
  const matte = await readMatteFile(join(CLIP, 'lantern_0001.png'), 'lantern_0001.png');
  const all = async (carried: AsyncGenerator<unknown>): Promise<number> => {
    const began = process.cpuUsage();
    let frame = await carried.next();
    while (!frame.done) frame = await carried.next();
    const { user, system } = process.cpuUsage(began);
    return (user + system) / 1000 / FRAMES;
  };
  const depth = await all(carryDepth(frames, keys));
  const layer = await all(carryMatte(frames, [{ frame: 0, matte }]));
  const behind = await all(carryBehind(await behindFrames(frames, keys, matte)));
  section('Carried through time, one core', `${FRAMES} frames of the demo clip, 960 x 600 px; a frame.`);
  row('depth, from keys at 1 and 12', ms(depth));
  row('  beside OpenCV DIS medium for the same frame', times(depth / dis));
  row('a matte as a layer (the lantern)', ms(layer));
  row('  beside OpenCV DIS medium for the same frame', times(layer / dis));
  row('what lies behind it, borrowed from nine of the frames', ms(behind));
  row('  beside OpenCV DIS medium for the same frame', times(behind / dis));
}

/** The frames with the lantern cut from them, carried. */
async function behindFrames(frames: Frames, keys: readonly DepthKey[], matte: Mask): Promise<BehindFrames> {
  const made: { -readonly [Part in keyof BehindFrame]?: BehindFrame[Part] }[] = [];
  for await (const { frame, depth } of carryDepth(frames, keys)) {
    const picture = await frames.frame(frame);
    made[frame] = { picture, depth: toDepthMap(picture, depth), painted: undefined };
  }
  for await (const { frame, matte: carried } of carryMatte(frames, [{ frame: 0, matte }])) {
    const { width, height, data } = carried;
    made[frame].hole = { width, height, data: data.map((v) => (v > 0 ? 255 : 0)) };
  }
  return { count: frames.count, painted: [], frame: (n) => Promise.resolve(made[n] as BehindFrame) };
}
