import type { Size } from '../kind';
import { overMap } from '../depth/overMap';
import { before, noChain, type Chain } from '../flow/chain';
import { inverseSearch } from '../flow/inverseSearch';
import { trustOf } from '../flow/trust';
import type { FlowField } from '../flow/flowField';
import { requireSameSize, type DepthMap } from '../raster/picture';
import { flowCandidate, rigidCandidate } from './candidates';
import { chosenDepth, type Saying } from './chosenDepth';
import { fitFrames, type MotionBegin } from './fitFrames';
import type { RigidMotion } from './rigidMotion';
import { checkKeys, type Frames } from './carryKeys';
import { frameOf, type Frame } from './frame';
import { StillParts } from './stillParts';
import { weightedMedian } from './weightedMedian';
import { CoreError } from '../error';

/** A frame's number with its depth. */
export interface DepthKey {
  readonly frame: number;
  readonly depth: DepthMap;
}

/** A carried frame. */
export interface CarriedDepth {
  readonly frame: number;
  /** 0 farthest to 1 nearest a pixel. */
  readonly depth: Float32Array;
  /** Share of its pixels whose colours say that it is right; 1 at a key. */
  readonly trust: number;
}

/** Beyond this median residual a scene is not rigid: only flow is believed, px. */
const NOT_RIGID = 1;
/** A camera that takes the picture by less stands still, px. */
const STILL = 0.5;
/** The median takes what changes by more, of all depth. */
const CHANGES = 0.03;

/**
 * What is known of the frames between two keys takes so many bytes a pixel and frame: it and its grey, flow both
 * ways, two chains.
 */
const FRAME_BYTES = 17;
/** So much memory at most, bytes. */
const ROOM = 4e9;

/**
 * Carries depth from key frames to all others: by the motion of the whole scene under a moving camera, fitted from each
 * key's own depth, and by flow where that fails; for each pixel what fits its colours best.
 * @param keys at least one, in the order of their frames; those between two of them are held in memory
 * @throws CoreError `no-keys`, `no-such-frame`, `keys-disorder`, `size-differs`, `far-apart`
 */
export async function* carryDepth(frames: Frames, keys: readonly DepthKey[]): AsyncGenerator<CarriedDepth> {
  const first = await frames.frame(0);
  checkKeys(
    first,
    frames.count,
    keys.map(({ frame, depth }) => ({ frame, made: depth })),
    'depth',
  );
  checkRoom(first, frames.count, keys);
  let left: Known | undefined;
  for (let n = 0; n <= keys.length; n++) {
    const right = n < keys.length ? await withFrame(frames, keys[n]) : undefined;
    if (left) yield { frame: left.frame, depth: depthsOf(left.depth), trust: 1 };
    if (left ?? right) yield* between(frames, left, right);
    left = right;
  }
}

/** What lies between two keys must fit in memory. */
function checkRoom({ width, height }: Size, count: number, keys: readonly DepthKey[]): void {
  const most = Math.floor(ROOM / (FRAME_BYTES * width * height));
  let before = -1;
  for (const { frame } of keys) {
    checkApart(before, frame, most);
    before = frame;
  }
  checkApart(before, count, most);
}

function checkApart(before: number, next: number, most: number): void {
  if (next - before - 1 > most)
    throw new CoreError(
      'far-apart',
      `From frame ${before + 2} to ${next} none has depth: more than ${most} of this size do not fit in memory. ` +
        'Give one between them depth, or carry smaller frames.',
    );
}

type Known = DepthKey & { readonly seen: Frame };

const withFrame = async (frames: Frames, key: DepthKey): Promise<Known> => ({
  ...key,
  seen: frameOf(await frames.frame(key.frame)),
});

const depthsOf = (map: DepthMap): Float32Array => overMap(map, (v) => v);

type FrameAt = (n: number) => Promise<Frame>;

/** What a key says beforehand of the frames on one side of it, the nearest first. */
interface KeyMotions {
  readonly key: Known;
  /** From each frame to the key, at half the size. */
  readonly chains: readonly Chain[];
  /** How the scene has moved by each. */
  readonly motions: readonly RigidMotion[];
}

/** The frames between two keys, or before the first or after the last. */
async function* between(
  frames: Frames,
  left: Known | undefined,
  right: Known | undefined,
): AsyncGenerator<CarriedDepth> {
  const first = left ? left.frame + 1 : 0;
  const last = right ? right.frame - 1 : frames.count - 1;
  if (last < first) return;
  const seen = new Map<number, Frame>();
  const frameAt: FrameAt = async (n) => {
    if (n === left?.frame) return left.seen;
    if (n === right?.frame) return right.seen;
    const known = seen.get(n) ?? (await readFrame(frames, n, (left ?? right)!));
    seen.set(n, known);
    return known;
  };
  const flows = await flowsOf(frameAt, left ? left.frame : first, right ? right.frame : last);
  const both: KeyMotions[] = [];
  // A key says nothing of the other one.
  const many = last - first + 1;
  if (left) both.push(await motionsFrom(left, flows.slice(0, many), frameAt, 1));
  if (right) both.push(await motionsFrom(right, [...flows].reverse().slice(0, many), frameAt, -1));
  const still = await stillParts(both, frameAt, [first, last]);
  for (let n = first; n <= last; n++) {
    const frame = await frameAt(n);
    const { depth: chosen, trust } = chosenDepth(
      frame.picture,
      both.flatMap((from) => sayingsOf(from, frame, n, many + 1)),
    );
    const depth = weightedMedian(chosen, frame.picture, CHANGES);
    still?.parts.keep(depth, still.depth);
    yield { frame: n, depth, trust };
    seen.delete(n);
  }
}

async function readFrame(frames: Frames, n: number, key: Known): Promise<Frame> {
  const picture = await frames.frame(n);
  requireSameSize(`Frame ${n + 1}`, picture, `frame ${key.frame + 1}`, key.seen.picture);
  return frameOf(picture);
}

/** What a key says of a frame. @param apart frames from one key to the other */
function sayingsOf({ key, chains, motions }: KeyMotions, frame: Frame, n: number, apart: number): Saying[] {
  const away = Math.abs(n - key.frame);
  const near = 1 - away / apart;
  const motion = motions[away - 1];
  const flow = { candidate: flowCandidate(key.seen, key.depth, frame, chains[away - 1]), near };
  if (motion.residual >= NOT_RIGID) return [flow];
  return [{ candidate: rigidCandidate(key.seen, key.depth, frame, motion), near }, flow];
}

/**
 * What does not move in any frame between two keys, or on to the end, with the depth that it keeps: the earlier key's.
 * Undefined where the camera moves.
 */
async function stillParts(
  both: readonly KeyMotions[],
  frameAt: FrameAt,
  [first, last]: readonly [number, number],
): Promise<{ readonly parts: StillParts; readonly depth: Float32Array } | undefined> {
  if (both.some(({ motions }) => motions.some((motion) => shiftOf(motion) > STILL))) return undefined;
  const [{ key }, other] = both;
  const parts = new StillParts(key.seen.picture);
  for (let n = first; n <= last; n++) parts.add((await frameAt(n)).picture);
  if (both.length > 1) parts.add(other.key.seen.picture);
  return { parts, depth: depthsOf(key.depth) };
}

/** By how much a motion takes the picture's corners and middle, px, at the most, at half of all depth. */
function shiftOf(motion: RigidMotion): number {
  const { width, height } = motion.size;
  const out = new Float64Array(2);
  let most = 0;
  for (const [x, y] of [
    [0.5, 0.5],
    [0, 0],
    [1, 0],
    [0, 1],
    [1, 1],
  ]) {
    motion.move(x * width, y * height, 0.5, out);
    most = Math.max(most, Math.hypot(out[0], out[1]));
  }
  return most;
}

/** Flow between neighbours, both ways. */
interface Flows {
  readonly on: FlowField;
  readonly back: FlowField;
  readonly trustOn: Float32Array;
  readonly trustBack: Float32Array;
}

async function flowsOf(frameAt: (n: number) => Promise<Frame>, first: number, last: number): Promise<Flows[]> {
  const flows: Flows[] = [];
  for (let n = first; n < last; n++) {
    const [a, b] = [(await frameAt(n)).half, (await frameAt(n + 1)).half];
    const [on, back] = [inverseSearch(a, b), inverseSearch(b, a)];
    flows.push({ on, back, trustOn: trustOf(on, back), trustBack: trustOf(back, on) });
  }
  return flows;
}

/**
 * How a key's scene has moved by each frame on one side, and where each frame's pixels came from. Each motion begins
 * with what
 * was found for the frame before it.
 * @param flows from the key away
 * @param way 1: the frames after the key; -1: those before it
 */
async function motionsFrom(key: Known, flows: readonly Flows[], frameAt: FrameAt, way: 1 | -1): Promise<KeyMotions> {
  const chains: Chain[] = [];
  const motions: RigidMotion[] = [];
  let chain = noChain(key.seen.half);
  let begin: MotionBegin | undefined;
  for (const { on, back, trustOn, trustBack } of flows) {
    const [away, home] = way > 0 ? [{ ...on, trust: trustOn }, back] : [{ ...back, trust: trustBack }, on];
    chain = before(home, way > 0 ? trustBack : trustOn, chain);
    chains.push(chain);
    begin = fitFrames(key.seen, key.depth, await frameAt(key.frame + way * chains.length), begin ?? away);
    motions.push(begin);
  }
  return { key, chains, motions };
}
