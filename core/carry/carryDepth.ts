import { after, before, noChain, type Chain } from '../flow/chain';
import { inverseSearch } from '../flow/inverseSearch';
import { trustOf } from '../flow/trust';
import type { FlowField } from '../flow/flowField';
import { requireSameSize, type DepthMap, type Picture8 } from '../raster/picture';
import { flowCandidate, rigidCandidate } from './candidates';
import { chosenDepth, type Saying } from './chosenDepth';
import { fitFrames, type MotionBegin } from './fitFrames';
import type { RigidMotion } from './rigidMotion';
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

/** Frames by their numbers, the first one 0; asked for one after another. */
export interface Frames {
  readonly count: number;
  frame(n: number): Promise<Picture8>;
}

/** Beyond this median residual a scene is not rigid: only flow is believed, px. */
const NOT_RIGID = 1;
/** A camera that takes the picture by less stands still, px. */
const STILL = 0.5;
/** The median takes what changes by more, of all depth. */
const CHANGES = 0.03;

/**
 * Carries depth from key frames to all others: by the motion of the whole scene under a moving camera, fitted from each key's own depth,
 * and by flow where that fails; for each pixel what fits its colours best.
 * @param keys at least one, in the order of their frames
 * @throws CoreError `no-keys`, `size-differs`
 */
export async function* carryDepth(frames: Frames, keys: readonly DepthKey[]): AsyncGenerator<CarriedDepth> {
  if (keys.length === 0)
    throw new CoreError('no-keys', 'No frame has depth yet: at least one must, to be carried to the others.');
  const known = await Promise.all(keys.map(async (key) => withFrame(frames, key)));
  for (let n = 0; n <= known.length; n++) {
    const [left, right] = [known[n - 1], known[n]];
    const first = left ? left.frame : 0;
    const last = right ? right.frame : frames.count - 1;
    if (left) yield { frame: left.frame, depth: depthsOf(left.depth), trust: 1 };
    yield* between(frames, { left, right }, [left ? first + 1 : first, right ? last - 1 : last]);
  }
}

type Known = DepthKey & { readonly seen: Frame };

async function withFrame(frames: Frames, key: DepthKey): Promise<Known> {
  const picture = await frames.frame(key.frame);
  requireSameSize(`The depth of frame ${key.frame + 1}`, key.depth, 'the frame', picture);
  return { ...key, seen: frameOf(picture) };
}

const depthsOf = ({ data }: DepthMap): Float32Array => {
  const out = new Float32Array(data.length);
  for (let i = 0; i < out.length; i++) out[i] = data[i] / 65535;
  return out;
};

interface Keys {
  readonly left: Known | undefined;
  readonly right: Known | undefined;
}

/** Chains of one frame from and to a key, at half the size. */
interface Chains {
  /** From the key to the frame, and from the frame to the key. */
  readonly there: Chain;
  readonly back: Chain;
}

/** The frames between two keys, or before the first or after the last. */
async function* between(
  frames: Frames,
  { left, right }: Keys,
  [first, last]: [number, number],
): AsyncGenerator<CarriedDepth> {
  if (last < first) return;
  const seen = new Map<number, Frame>();
  const frameAt = async (n: number): Promise<Frame> => {
    if (n === left?.frame) return left.seen;
    if (n === right?.frame) return right.seen;
    const known = seen.get(n) ?? frameOf(await frames.frame(n));
    seen.set(n, known);
    return known;
  };
  const flows = await flowsOf(frameAt, left ? left.frame : first, right ? right.frame : last);
  const fromLeft = left && chainsFrom(flows, left.seen, 1);
  const fromRight = right && chainsFrom(flows, right.seen, -1);
  const motionsLeft = left && (await motionsFrom(left, fromLeft![0], frameAt, [first, last]));
  const motionsRight = right && (await motionsFrom(right, fromRight![0], frameAt, [last, first]));
  const whole = (left?.frame ?? 0) - (right?.frame ?? 0) === 0 ? 1 : (right?.frame ?? last) - (left?.frame ?? first);
  const still = await stillParts({ left, right }, [motionsLeft, motionsRight], frameAt, [first, last]);
  for (let n = first; n <= last; n++) {
    const frame = await frameAt(n);
    const sayings: Saying[] = [];
    for (const [key, chains, motion] of [
      [left, fromLeft?.[n - left!.frame - 1], motionsLeft?.get(n)],
      [right, fromRight?.[right!.frame - n - 1], motionsRight?.get(n)],
    ] as const) {
      if (!key || !chains || !motion) continue;
      const near = left && right ? 1 - Math.abs(n - key.frame) / whole : 1;
      if (motion.residual < NOT_RIGID)
        sayings.push({ candidate: rigidCandidate(key.seen, key.depth, frame, motion), near });
      sayings.push({ candidate: flowCandidate(key.seen, key.depth, frame, chains.back), near });
    }
    const { depth: chosen, trust } = chosenDepth(frame.picture, sayings);
    const depth = weightedMedian(chosen, frame.picture, CHANGES);
    still?.parts.keep(depth, still.depth);
    yield { frame: n, depth, trust };
    seen.delete(n);
  }
}

/**
 * What does not move in any frame between two keys, or on to the end, with the depth that it keeps: the earlier key's. Undefined where the
 * camera moves.
 */
async function stillParts(
  { left, right }: Keys,
  motions: readonly (Map<number, RigidMotion> | undefined)[],
  frameAt: (n: number) => Promise<Frame>,
  [first, last]: readonly [number, number],
): Promise<{ readonly parts: StillParts; readonly depth: Float32Array } | undefined> {
  const key = (left ?? right)!;
  if (motions.some((known) => [...(known?.values() ?? [])].some((motion) => shiftOf(motion) > STILL))) return undefined;
  const parts = new StillParts(key.seen.picture);
  for (let n = first; n <= last; n++) parts.add((await frameAt(n)).picture);
  if (left && right) parts.add(right.seen.picture);
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

/** How a key's scene has moved by each frame from the nearest to the farthest; each begins with what was found for the one before it. */
async function motionsFrom(
  key: Known,
  nearest: Chains,
  frameAt: (n: number) => Promise<Frame>,
  [from, to]: readonly [number, number],
): Promise<Map<number, RigidMotion>> {
  const motions = new Map<number, RigidMotion>();
  const step = from <= to ? 1 : -1;
  let begin: MotionBegin = nearest.there;
  for (let n = from; step > 0 ? n <= to : n >= to; n += step) {
    begin = fitFrames(key.seen, key.depth, await frameAt(n), begin);
    motions.set(n, begin);
  }
  return motions;
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

/** Chains from a key to each frame after it, or (`way` -1) before it, the nearest first. */
function chainsFrom(flows: readonly Flows[], key: Frame, way: 1 | -1): Chains[] {
  const chains: Chains[] = [];
  let there = noChain(key.half);
  let back = noChain(key.half);
  for (const step of way > 0 ? flows : [...flows].reverse()) {
    const [away, home] = way > 0 ? [step.on, step.back] : [step.back, step.on];
    const [trustAway, trustHome] = way > 0 ? [step.trustOn, step.trustBack] : [step.trustBack, step.trustOn];
    there = after(there, away, trustAway);
    back = before(home, trustHome, back);
    chains.push({ there, back });
  }
  return chains;
}
