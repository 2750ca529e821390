import type { Mask, Picture8 } from '../raster/picture';
import { checkKeys, type Frames } from './carryKeys';
import { frameOf } from './frame';
import { bothSides, type LayerSaying } from './layer/bothSides';
import { FollowedLayer } from './layer/followLayer';
import { laidLayer, type LaidLayer } from './layer/laidLayer';
import { AT_KEY, type LayerPose } from './layer/layerPose';
import { placedLayer, type PlacedLayer } from './layer/placedLayer';
import { templateOf, type Template } from './layer/template';

/** A frame's number with the matte that was made there. */
export interface MatteKey {
  readonly frame: number;
  /** Empty where the cut-out is not in the picture, or wholly hidden. */
  readonly matte: Mask;
}

/** A carried frame. */
export interface CarriedMatte {
  readonly frame: number;
  readonly matte: Mask;
  /** Share of the cut-out whose colours agree with a key's; 1 at a key, 0 where it was lost. */
  readonly trust: number;
  /** Where the cut-outs of the keys around it were found; none at a key. */
  readonly placed: readonly PlacedLayer[];
}

/** Less of it than this agrees: it was lost, or lies behind something. */
const LOST = 0.25;

/**
 * Carries a cut-out from key frames to all others: as a layer that is looked for in each frame by what it looks like
 * in its key, so
 * that nothing drifts. What has the colours of its surroundings is in front of it.
 * @param keys at least one, in the order of their frames
 * @throws CoreError `no-keys`, `no-such-frame`, `keys-disorder`, `size-differs`
 */
export async function* carryMatte(frames: Frames, keys: readonly MatteKey[]): AsyncGenerator<CarriedMatte> {
  checkKeys(
    await frames.frame(0),
    frames.count,
    keys.map(({ frame, matte }) => ({ frame, made: matte })),
    'a matte',
  );
  let left: Known | undefined;
  for (let n = 0; n <= keys.length; n++) {
    const right = n < keys.length ? await withTemplate(frames, keys[n]) : undefined;
    if (left) yield { frame: left.frame, matte: left.matte, trust: 1, placed: [] };
    yield* between(frames, left, right);
    left = right;
  }
}

interface Known extends MatteKey {
  readonly picture: Picture8;
  /** Undefined where it is not to be seen. */
  readonly template: Template | undefined;
}

async function withTemplate(frames: Frames, key: MatteKey): Promise<Known> {
  const picture = await frames.frame(key.frame);
  return { ...key, picture, template: templateOf(picture, key.matte) };
}

/** The frames between two keys, or before the first or after the last. */
async function* between(
  frames: Frames,
  left: Known | undefined,
  right: Known | undefined,
): AsyncGenerator<CarriedMatte> {
  const first = left ? left.frame + 1 : 0;
  const last = right ? right.frame - 1 : frames.count - 1;
  if (last < first) return;
  // Where the later key's layer lies in each frame, walked back to the earlier one; only poses are kept.
  const back = new Map<number, LayerPose>();
  if (right?.template)
    for await (const { frame, pose } of followed(frames, right, right.template, [last, first])) back.set(frame, pose);
  const on = left?.template ? followed(frames, left, left.template, [first, last]) : read(frames, [first, last]);
  for await (const { frame, picture, pose, laid } of on) {
    const said: Said[] = [];
    if (left?.template && pose) said.push({ key: left, pose, laid, near: right ? right.frame - frame : 1 });
    if (right?.template) {
      const at = back.get(frame)!;
      const near = left ? frame - left.frame : 1;
      said.push({ key: right, pose: at, laid: laidLayer(right.template, picture, at), near });
    }
    const found = believed(said);
    const sayings = said.flatMap(({ laid: at, near }, n): LayerSaying[] =>
      at && found[n] ? [{ laid: at, near }] : [],
    );
    yield {
      frame,
      matte: bothSides(picture, sayings),
      trust: sayings.reduce((most, { laid: { agrees } }) => Math.max(most, agrees), 0),
      placed: said.map(({ key, pose: at, near }, n) =>
        placedLayer(key.template!, { key: key.frame, pose: at, near, sure: found[n] }),
      ),
    };
  }
}

/** What a key says of a frame. */
interface Said {
  readonly key: Known;
  readonly pose: LayerPose;
  readonly laid: LaidLayer | undefined;
  readonly near: number;
}

/** Two keys that find it farther apart than this part of its size have not both found it. */
const APART = 0.25;

/** Which of the keys have found it: those whose colours agree; of two that find it at two places the surer one. */
function believed(said: readonly Said[]): boolean[] {
  const agrees = said.map(({ laid }) => laid?.agrees ?? 0);
  const found = agrees.map((share) => share >= LOST);
  if (!found.every(Boolean) || said.length < 2) return found;
  const [a, b] = said.map(({ key: { template }, pose }) => ({
    x: template!.x + pose.dx,
    y: template!.y + pose.dy,
    reach: template!.reach,
  }));
  if (Math.hypot(a.x - b.x, a.y - b.y) <= APART * Math.min(a.reach, b.reach) + 1) return found;
  return agrees[0] >= agrees[1] ? [true, false] : [false, true];
}

interface Followed {
  readonly frame: number;
  readonly picture: Picture8;
  readonly pose: LayerPose;
  readonly laid: LaidLayer | undefined;
}

/**
 * A key's layer through frames, each found from the one before it. @param range from the key's neighbour to the last
 */
async function* followed(
  frames: Frames,
  key: Known,
  template: Template,
  [from, to]: readonly [number, number],
): AsyncGenerator<Followed> {
  const layer = new FollowedLayer(template);
  const way = to >= from ? 1 : -1;
  let before = frameOf(key.picture);
  let laid = laidLayer(template, key.picture, AT_KEY);
  for (let n = from; n !== to + way; n += way) {
    const now = frameOf(await frames.frame(n));
    const pose = layer.next(now, before, laid);
    laid = laidLayer(template, now.picture, pose);
    if (!laid || laid.agrees < LOST) layer.lose();
    else layer.take(pose);
    before = now;
    yield { frame: n, picture: now.picture, pose, laid };
  }
}

/** Frames of which the earlier key says nothing. */
async function* read(
  frames: Frames,
  [from, to]: readonly [number, number],
): AsyncGenerator<Omit<Followed, 'pose'> & { readonly pose: undefined }> {
  for (let n = from; n <= to; n++) yield { frame: n, picture: await frames.frame(n), pose: undefined, laid: undefined };
}
