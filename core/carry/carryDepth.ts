import type { Size } from '../kind';
import { overMap } from '../depth/overMap';
import { requireSameSize, type DepthMap, type Mask } from '../raster/picture';
import { flowCandidate, rigidCandidate } from './candidates';
import { chosenDepth, type Saying } from './chosenDepth';
import { NOT_RIGID, STILL, type RigidMotion } from './rigidMotion';
import { checkKeys, type Frames } from './carryKeys';
import { frameOf, type Frame } from './frame';
import { StillParts } from './stillParts';
import { takenUp, waiting, Walk, type KeySays, type SeenKey, type WaitingChain } from './walk';
import { weightedMedian } from './weightedMedian';
import { CoreError } from '../error';

/** A frame's number with its depth. */
export interface DepthKey {
  readonly frame: number;
  readonly depth: DepthMap;
}

/** What moves by itself in a frame, 255; undefined where nothing does. */
type Apart = (frame: number) => Promise<Mask | undefined>;

/** A carried frame. */
export interface CarriedDepth {
  readonly frame: number;
  /** 0 farthest to 1 nearest a pixel. */
  readonly depth: Float32Array;
  /** Share of its pixels whose colours say that it is right; 1 at a key. */
  readonly trust: number;
}

/** The median takes what changes by more, of all depth. */
const CHANGES = 0.03;

/** What a key says of the frames between two keys waits in so many bytes a pixel and frame. */
const FRAME_BYTES = 1.25;
/** So much memory at most, bytes. */
const ROOM = 1.2e9;

/**
 * Carries depth from key frames to all others: by the motion of the whole scene under a moving camera, fitted from each
 * key's own depth, and by flow where that fails; for each pixel what fits its colours best.
 * @param keys at least one, in the order of their frames; what is known of the frames between two of them is held in
 * memory
 * @param apart what moves by itself in a frame and is carried by itself, 255: it says nothing of what lies around it
 * @throws CoreError `no-keys`, `no-such-frame`, `keys-disorder`, `size-differs`, `far-apart`
 */
export async function* carryDepth(
  frames: Frames,
  keys: readonly DepthKey[],
  apart: Apart = () => Promise.resolve(undefined),
): AsyncGenerator<CarriedDepth> {
  const first = await frames.frame(0);
  checkKeys(
    first,
    frames.count,
    keys.map(({ frame, depth }) => ({ frame, made: depth })),
    'depth',
  );
  checkRoom(first, frames.count, keys);
  let left: SeenKey | undefined;
  for (let n = 0; n <= keys.length; n++) {
    const right = n < keys.length ? await withFrame(frames, keys[n], apart) : undefined;
    if (left) yield { frame: left.frame, depth: depthsOf(left.depth), trust: 1 };
    if (left ?? right) yield* between(frames, [left, right], apart);
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

const withFrame = async (frames: Frames, key: DepthKey, apart: Apart): Promise<SeenKey> => ({
  ...key,
  apart: await apart(key.frame),
  seen: frameOf(await frames.frame(key.frame)),
});

const depthsOf = (map: DepthMap): Float32Array => overMap(map, (v) => v);

/** The frames between two keys, or before the first or after the last. */
async function* between(
  frames: Frames,
  [left, right]: readonly [SeenKey | undefined, SeenKey | undefined],
  apart: Apart,
): AsyncGenerator<CarriedDepth> {
  const first = left ? left.frame + 1 : 0;
  const last = right ? right.frame - 1 : frames.count - 1;
  if (last < first) return;
  // The later key's way is walked beforehand, back to the earlier one; then this one's, along with what is made of
  // both.
  const scanned = await scan(frames, [left, right], [first, last]);
  const walk = left && right ? new Walk(left) : undefined;
  const span = last - first + 2;
  for (let n = first; n <= last; n++) {
    const frame = await readFrame(frames, n, scanned.key);
    const { chain, motion } = scanned.says.get(n)!;
    const sayings = [
      ...(walk ? sayingsOf(left!, walk.step(frame), frame, 1 - (n - left!.frame) / span) : []),
      ...sayingsOf(scanned.key, { chain: takenUp(chain), motion }, frame, 1 - Math.abs(n - scanned.key.frame) / span),
    ];
    scanned.says.delete(n);
    const { depth: chosen, trust } = chosenDepth(frame.picture, sayings, await apart(n));
    const depth = weightedMedian(chosen, frame.picture, CHANGES);
    scanned.still?.parts.keep(depth, scanned.still.depth);
    yield { frame: n, depth, trust };
  }
}

/** What one of two keys says of the frames between them, and what does not move in any of them. */
interface Scanned {
  readonly key: SeenKey;
  readonly says: Map<number, { readonly chain: WaitingChain; readonly motion: RigidMotion }>;
  /**
   * What does not move in any frame between two keys, or on to the end, with the depth that it keeps: the earlier
   * key's. Undefined
   * where the camera moves.
   */
  readonly still: { readonly parts: StillParts; readonly depth: Float32Array } | undefined;
}

/** Walks from the later key back, or, where there is none, from the earlier one on. */
async function scan(
  frames: Frames,
  [left, right]: readonly [SeenKey | undefined, SeenKey | undefined],
  [first, last]: readonly [number, number],
): Promise<Scanned> {
  const key = (right ?? left)!;
  const keeps = (left ?? right)!;
  const walk = new Walk(key);
  const parts = new StillParts(keeps.seen.picture);
  const says: Scanned['says'] = new Map();
  let moves = false;
  for (let k = 0; k <= last - first; k++) {
    const n = right ? last - k : first + k;
    const frame = await readFrame(frames, n, key);
    const { chain, motion } = walk.step(frame);
    says.set(n, { chain: waiting(chain), motion });
    moves ||= motion.shift > STILL;
    if (!moves) parts.add(frame.picture);
  }
  if (left && right) parts.add(right.seen.picture);
  return { key, says, still: moves ? undefined : { parts, depth: depthsOf(keeps.depth) } };
}

async function readFrame(frames: Frames, n: number, key: SeenKey): Promise<Frame> {
  const picture = await frames.frame(n);
  requireSameSize(`Frame ${n + 1}`, picture, `frame ${key.frame + 1}`, key.seen.picture);
  return frameOf(picture);
}

/** What a key says of a frame. @param near how near it lies in time, 0 to 1 */
function sayingsOf(key: SeenKey, { chain, motion }: KeySays, frame: Frame, near: number): Saying[] {
  const flow = { candidate: flowCandidate(key, frame, chain), near };
  if (motion.residual >= NOT_RIGID) return [flow];
  return [{ candidate: rigidCandidate(key, frame, motion), near }, flow];
}
