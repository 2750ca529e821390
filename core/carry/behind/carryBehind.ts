import { LRUCache } from 'lru-cache';
import { pictureOf, type Mask, type Straight8 } from '../../raster/picture';
import { frameOf } from '../frame';
import { NOT_RIGID, STILL } from '../rigidMotion';
import { borrow, nothingKnown, type Borrowed } from './borrow';
import type { BehindFrame, BehindFrames, CarriedBehind } from './frames';
import { invent } from './invent';
import { besideHole, lightBeside } from './matched';
import { Motions, type Half } from './motions';
import { INVENTED, inOrder, knownBy, sourceOf, type Source } from './source';
import { stillBehind } from './stillBehind';

/** A frame borrows from views that lie no farther away than so many frames. */
const REACH = 48;
/** Views lie so far apart at the most, frames; a short scene has so many. */
const [APART, FEWEST] = [12, 9];
/** Halves of so many frames are kept while motions are fitted. */
const KEPT = 2 * REACH + 8;

/** A frame that others borrow from. */
interface View {
  readonly frame: number;
  /** How the scene has moved from it. */
  readonly motions: Motions;
  readonly sources: Source[];
}

/**
 * What lies behind the plates of a film: borrowed from frames in which it is seen, through the fitted motion of the
 * whole scene and matched to the light; what none of them shows is invented once, and carried like what was seen. What
 * was filled at a frame goes before both. Where the camera stands still there is one clean plate for all frames.
 * @param frames one scene
 */
export async function* carryBehind(
  frames: BehindFrames,
  onProgress: (share: number) => void = () => undefined,
): AsyncGenerator<CarriedBehind> {
  const views: View[] = [];
  const halves = new LRUCache<number, Promise<Half>>({ max: KEPT });
  const half = (n: number): Promise<Half> => {
    const known = halves.get(n) ?? frames.frame(n).then(({ picture }): Half => ({ half: frameOf(picture).half }));
    halves.set(n, known);
    return known;
  };
  for (const frame of viewsOf(frames)) views.push(await viewAt(frames, frame, half));
  if (await standsStill(views)) {
    yield* still(frames);
    return;
  }
  for (const [k, view] of middleFirst(views).entries()) {
    await inventAt(frames, view, views);
    onProgress((k + 1) / views.length);
  }
  for (let n = 0; n < frames.count; n++) {
    const frame = await frames.frame(n);
    const { known, want } = await gathered(frame, n, views);
    invent(known, frame, want);
    yield carried(n, frame, known);
  }
}

/** True where nothing has moved from any view to the first one. */
async function standsStill([first, ...others]: readonly View[]): Promise<boolean> {
  if (others.length === 0) return false;
  for (const { motions } of others) {
    const motion = await motions.straightTo(first.frame);
    if (motion.residual >= NOT_RIGID || motion.shift >= STILL) return false;
  }
  return true;
}

function viewsOf({ count, painted }: BehindFrames): number[] {
  const step = Math.max(1, Math.min(APART, Math.floor((count - 1) / (FEWEST - 1))));
  const even = Array.from({ length: Math.floor((count - 1) / step) + 1 }, (_, k) => k * step);
  return [...new Set([...even, count - 1, ...painted])].sort((a, b) => a - b);
}

async function viewAt(frames: BehindFrames, n: number, half: (n: number) => Promise<Half>): Promise<View> {
  const { picture, depth, hole } = await frames.frame(n);
  const usable: Mask = { ...hole, data: hole.data.map((v) => (v > 0 ? 0 : 255)) };
  const seen = sourceOf({ frame: n, picture, depth, usable, rank: 1 });
  const motions = new Motions({ frame: n, seen: frameOf(picture), depth, apart: hole }, half);
  return { frame: n, motions, sources: seen ? [seen] : [] };
}

/** What can be borrowed for a frame, and what is still wanted. */
async function gathered(
  frame: BehindFrame,
  n: number,
  views: readonly View[],
): Promise<{ known: Borrowed; want: Uint8Array }> {
  const known = nothingKnown(frame.picture);
  const want = frame.hole.data.map((v) => (v > 0 ? 255 : 0));
  const near = views.filter((view) => Math.abs(view.frame - n) <= REACH);
  const beside = besideHole(frame.hole);
  const lights = new Map<View, readonly number[]>();
  for (const source of inOrder(
    near.flatMap(({ sources }) => sources),
    n,
  )) {
    if (!want.includes(255)) break;
    const view = near.find((v) => v.frame === source.frame)!;
    const motion = view.frame === n ? undefined : await view.motions.to(n);
    if (view.frame !== n && !motion) continue;
    const before = want.slice();
    if (borrow(known, source, motion, want) === 0 || view.frame === n) continue;
    const seen = view.sources.find(({ rank }) => rank === 1);
    // Of a view that is hidden wholly nothing is known of its light.
    const light = lights.get(view) ?? (seen ? lightBeside(frame, beside, seen, motion) : [0, 0, 0]);
    lights.set(view, light);
    for (let i = 0; i < want.length; i++)
      if (before[i] !== want[i]) for (let c = 0; c < 3; c++) known.colours[3 * i + c] += light[c];
  }
  return { known, want };
}

/** Invents at a view what no other shows; that is a source of its own. What was painted there is one, too. */
async function inventAt(frames: BehindFrames, view: View, views: readonly View[]): Promise<void> {
  const frame = await frames.frame(view.frame);
  if (!frame.hole.data.includes(255)) return;
  const { known, want } = await gathered(frame, view.frame, views);
  invent(known, frame, want);
  const { width, height } = frame.picture;
  const depth = { width, height, data: Uint16Array.from(known.depth, (d) => Math.round(65535 * d)) };
  const add = (rank: Source['rank'], usable: Uint8Array, data: Straight8['data']): void => {
    const lies = { frame: view.frame, picture: { width, height, data }, depth, rank };
    const source = sourceOf({ ...lies, usable: { width, height, data: usable } });
    if (source) view.sources.push(source);
  };
  const { painted } = frame;
  if (painted) {
    const covers = (v: number, i: number): number => (v > 0 && painted.data[4 * i + 3] >= 128 ? 255 : 0);
    add(0, frame.hole.data.map(covers), painted.data);
  }
  add(
    INVENTED,
    known.known.map((rank) => (rank === knownBy(INVENTED) ? 255 : 0)),
    coloursOf(known).data,
  );
}

async function* still(frames: BehindFrames): AsyncGenerator<CarriedBehind> {
  const plate = await stillBehind(frames);
  for (let n = 0; n < frames.count; n++) {
    yield carried(n, await frames.frame(n), plate);
  }
}

function carried(n: number, { depth, hole }: BehindFrame, known: Borrowed): CarriedBehind {
  const colours = coloursOf(known);
  const out = new Uint16Array(depth.data.length);
  let [hidden, seen] = [0, 0];
  for (let i = 0; i < out.length; i++) {
    if (hole.data[i] === 0) {
      colours.data.fill(0, 4 * i, 4 * i + 4);
      continue;
    }
    hidden++;
    if (known.known[i] < knownBy(INVENTED)) seen++;
    out[i] = Math.round(65535 * Math.min(1, Math.max(0, known.depth[i])));
  }
  return { frame: n, colours, depth: { ...depth, data: out }, seen: hidden > 0 ? seen / hidden : 1 };
}

function coloursOf({ width, height, colours }: Borrowed): Straight8 {
  // Rounds and clamps by itself.
  const data = new Uint8ClampedArray(4 * width * height);
  for (let i = 0; i < width * height; i++) {
    for (let c = 0; c < 3; c++) data[4 * i + c] = colours[3 * i + c];
    data[4 * i + 3] = 255;
  }
  return pictureOf({ width, height }, data, 'straight');
}

/** From the middle on outwards: what is invented there reaches farthest. */
function middleFirst(views: readonly View[]): View[] {
  const middle = views[views.length >> 1].frame;
  return [...views].sort((a, b) => Math.abs(a.frame - middle) - Math.abs(b.frame - middle));
}
