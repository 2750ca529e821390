import { CoreError } from '../../error';
import { cropPicture, cropPlane } from '../../raster/crop';
import { copyPicture, isDeep, requireSameSize, type DepthMap, type Mask, type Picture } from '../../raster/picture';
import { coarseness } from './coarseness';
import { goOn } from './goOn';
import type { Ground } from './ground';
import { groundBox } from './groundBox';
import { layPatches } from './layPatches';
import { regionsOf } from './regions';
import { amongLeaves, roughBeside } from './rough';
import { CONTINUE_PROPOSALS } from './proposals';

/** The proposals: how soft each is, and whether what nothing foretells is patched from around in place of smooth. */
const PROPOSALS: Readonly<Record<(typeof CONTINUE_PROPOSALS)[number], { kappa: number; patched: boolean }>> = {
  'as it continues': { kappa: 0.2, patched: false },
  soft: { kappa: 0.6, patched: false },
  patched: { kappa: 0.2, patched: true },
};

export interface ContinueOptions {
  /** Depth of the ground, of which the hole's is not asked: its planes go on. White near, black infinitely far. @default none */
  readonly depth?: DepthMap;
  /** Where it may be taken from, 255; outside the hole only in any case. @default everywhere */
  readonly sampleFrom?: Mask;
  /** What is of no account, 255: nearer things that hide the ground and are not to be filled. @default nothing */
  readonly ignore?: Mask;
  /** What belongs to another ground, 255: of no account, and nothing that goes on with what is filled. @default nothing */
  readonly apart?: Mask;
  /** Which proposal: 1 as it continues, 2 soft, 3 patched, and so on again. @default 1 */
  readonly seed?: number;
  /** A quick look at it: fewer repetitions are searched, and rough ground stays smooth. @default false */
  readonly quick?: boolean;
  /** Called now and then with the share that is done, 0 to 1; may throw to end the work. */
  readonly onProgress?: (share: number) => void;
}

/**
 * Fills a picture's hole with how its surroundings go on: planes of the scene, straight structures and what repeats itself,
 * as far as that is seen to hold beside the hole; smoothly elsewhere, or with patches. Pixels outside the hole come out
 * unchanged, bit for bit; alpha stays.
 * @param hole 128 and more: fill
 * @throws CoreError `size-differs`; `no-hole`; `nothing-to-sample`
 */
export function continueFill<P extends Picture>(picture: P, hole: Mask, options: ContinueOptions = {}): P {
  const steps = continueSteps(picture, hole, options);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

/**
 * The same region by region, so that what is filled can be shown meanwhile: yields the picture, which is filled on
 * afterwards, and where it has just been filled (255).
 */
export function* continueSteps<P extends Picture>(
  picture: P,
  hole: Mask,
  options: ContinueOptions = {},
): Generator<{ readonly picture: P; readonly region: Mask }, P> {
  requireSameSize('The hole', hole, 'the picture', picture);
  const { sampleFrom, ignore, apart, depth, quick = false, seed = 1, onProgress = () => undefined } = options;
  if (depth) requireSameSize('The depth map', depth, 'the picture', picture);
  if (sampleFrom) requireSameSize('The area to sample from', sampleFrom, 'the picture', picture);
  if (ignore) requireSameSize('What is of no account', ignore, 'the picture', picture);
  if (apart) requireSameSize('The other ground', apart, 'the picture', picture);
  const { kappa, patched } = PROPOSALS[CONTINUE_PROPOSALS[(Math.max(1, seed) - 1) % CONTINUE_PROPOSALS.length]];
  if (!hole.data.some((v) => v >= 128))
    throw new CoreError('no-hole', 'There is nothing to fill: the hole has no white pixel.');
  // What is not asked for but as unknown goes on in one with what is: a strip alone tells less of what it is the edge of.
  const unknown: Mask = {
    ...hole,
    data: hole.data.map((v, i) => (ignore && !apart?.data[i] ? Math.max(v, ignore.data[i]) : v)),
  };
  const regions = regionsOf(unknown).filter((region) => region.data.some((v, i) => v > 0 && hole.data[i] >= 128));
  const share = patched ? 0.5 : 0.8;
  const out = copyPicture(picture);
  const sure = new Float32Array(picture.width * picture.height);
  const fine = new Uint8Array(sure.length);
  const leaves = new Uint8Array(sure.length);
  for (const [n, region] of regions.entries()) {
    fillRegion({ picture, hole, out, sure, fine, leaves }, region, {
      ...options,
      kappa,
      heedsRough: !patched && !quick,
      ignore: {
        ...hole,
        data: unknown.data.map((v, i) => (region.data[i] ? 0 : Math.max(v, apart ? apart.data[i] : 0))),
      },
      onProgress: (done) => {
        onProgress((share * (n + done)) / regions.length);
      },
    });
    if (!patched && regions.length > 1) yield { picture: out, region };
  }
  const from = (more: Mask | undefined): Mask => ({
    ...hole,
    data: unknown.data.map((v, i) =>
      more?.data[i] || (v < 128 && (!sampleFrom || sampleFrom.data[i] >= 128)) ? 255 : 0,
    ),
  });
  const asked = hole.data.reduce((n, v) => n + (v >= 128 ? 1 : 0), 0);
  const patch = (weights: Uint8Array, source: Mask, [begin, end]: readonly [number, number]): void => {
    if (weights.reduce((n, v) => n + (v > 0 ? 1 : 0), 0) < WORTH * asked) return;
    layPatches(out, weights, {
      sampleFrom: source,
      started: weights !== leaves,
      onProgress: (done) => {
        onProgress(begin + done * (end - begin));
      },
    });
  };
  if (patched)
    patch(
      Uint8Array.from(sure, (v, i) => (hole.data[i] >= 128 ? 255 * (1 - v) : 0)),
      from(undefined),
      [share, 1],
    );
  // Where nothing is foretold it is smooth; but fur and leaves are patched from around, or it would be a blur among them. What is
  // fine goes on from the smooth fill; leaves have shapes, of which that tells nothing.
  else if (!quick)
    try {
      patch(fine, from(hole), [share, (1 + share) / 2]);
      patch(leaves, from(undefined), [(1 + share) / 2, 1]);
    } catch (error) {
      // Nobody asked for patches: where no whole one may be sampled it stays smooth.
      if (!(error instanceof CoreError && error.code === 'nothing-to-sample')) throw error;
    }
  onProgress(1);
  return out;
}

/** Patches for a smaller share of a hole cost more than they show. */
const WORTH = 0.01;
/** Less rough than this a place stays smooth: patches would be a haze there, and cost as much. */
const FAINT = 0.2;

interface Filling<P extends Picture> {
  readonly picture: P;
  /** What is asked for. */
  readonly hole: Mask;
  /** Where it is filled. */
  readonly out: P;
  /** How far what is filled was foretold, 0 to 1. */
  readonly sure: Float32Array;
  /** How far it was not and is patched in place, as fur or as leaves, 0 to 255. */
  readonly fine: Uint8Array;
  readonly leaves: Uint8Array;
}

interface RegionOptions extends ContinueOptions {
  readonly kappa: number;
  /** Whether rough ground is told apart, to be patched. */
  readonly heedsRough: boolean;
}

function fillRegion<P extends Picture>(
  { picture, hole, out, sure, fine, leaves }: Filling<P>,
  region: Mask,
  { kappa, heedsRough, sampleFrom, ignore, depth, quick, onProgress }: RegionOptions,
): void {
  const box = groundBox(region, sampleFrom);
  const part = cropPicture(picture, box);
  const full = isDeep(picture) ? 257 : 1;
  const ground = groundOf(
    part,
    full,
    [region, sampleFrom, ignore].map((mask) => mask && cropPlane(mask, box).data),
  );
  if (!ground.from.includes(1))
    throw new CoreError('nothing-to-sample', 'There is nothing to sample from around the hole. Choose a larger area.');
  const isLeafy = heedsRough && amongLeaves(ground);
  const rough = heedsRough && !isLeafy ? roughBeside(ground) : undefined;
  const wentOn = goOn(ground, {
    factor: coarseness(part),
    kappa,
    ...(quick === undefined ? {} : { quick }),
    ...(depth ? { depth: Float32Array.from(cropPlane(depth, box).data, (v) => v / 65535) } : {}),
    ...(onProgress ? { onProgress } : {}),
  });
  const most = 255 * full;
  for (let y = 0, i = 0; y < part.height; y++)
    for (let x = 0, to = (box.top + y) * picture.width + box.left; x < part.width; x++, i++, to++) {
      if (!ground.hole[i] || hole.data[to] < 128) continue;
      sure[to] = wentOn.sure[i];
      const left = 1 - wentOn.sure[i];
      if (isLeafy) leaves[to] = 255 * left;
      else if (rough) fine[to] = (255 * Math.max(0, left * rough[i] - FAINT)) / (1 - FAINT);
      for (let c = 0; c < 3; c++)
        out.data[to * 4 + c] = Math.min(most, Math.max(0, Math.round(wentOn.colours[i * 3 + c] * full)));
    }
}

/** @param masks hole, where it may be taken from, what is of no account; of the picture's size */
function groundOf(
  { width, height, data }: Picture,
  full: number,
  masks: readonly (ArrayLike<number> | undefined)[],
): Ground {
  const [open, may, ignore] = masks;
  const count = width * height;
  const colours = new Float32Array(count * 3);
  const known = new Uint8Array(count);
  const from = new Uint8Array(count);
  const hole = new Uint8Array(count);
  for (let i = 0; i < count; i++) {
    for (let c = 0; c < 3; c++) colours[i * 3 + c] = data[i * 4 + c] / full;
    if (open && open[i] >= 128) hole[i] = 1;
    else if (!ignore || ignore[i] < 128) {
      known[i] = 1;
      from[i] = !may || may[i] >= 128 ? 1 : 0;
    }
  }
  return { width, height, colours, known, from, hole };
}
