import type { Rect } from '../raster/geometry';
import { CoreError } from '../error';
import { ownKernels } from '../kernels/kernels';
import { cropPicture, cropPlane } from '../raster/crop';
import { distanceTo } from '../raster/distance';
import { copyPicture, isDeep, requireSameSize, type Mask, type Picture } from '../raster/picture';
import { exemplarFill } from './exemplarFill';
import { halfLevel, PatchField, PATCH_REACH, type PatchLevel } from './patchLevel';
import { smoothFill } from './smoothFill';
import { workBox } from './workBox';

export interface TextureFillOptions {
  /** Where samples may be taken, 255; outside the hole only in any case. @default everywhere */
  readonly sampleFrom?: Mask;
  /** Another seed gives another proposal. @default 1 */
  readonly seed?: number;
  /** Beginnings tried at the smallest size, of which the best is taken. @default 6 */
  readonly restarts?: number;
  /** The hole already holds a beginning, which is followed. @default false */
  readonly started?: boolean;
  /** Called now and then with the share that is done, 0 to 1; may throw to end the work. */
  readonly onProgress?: (share: number) => void;
}

/** Open pixels of the smallest size at most: there every beginning is tried whole. */
const FEW = 9000;
/** The seam is blended by so much of the full range at most: more would smear where a structure breaks off. */
const SEAM = 0.07;
/** Turns of search and vote at the smallest size; fewer at each larger one, at least two. */
const MOST_TURNS = 12;

/**
 * Completes a picture in a hole with texture and structure of its surroundings. Pixels outside the hole come out
 * unchanged, bit for
 * bit; the seam is blended: what the patches say of the pixels around the hole is set against what these are, and the difference
 * is spread over the hole as a membrane.
 *
 * Sources: Wexler, Shechtman and Irani, "Space-time completion of video", PAMI 29(3), 2007 (coherence of all overlapping patches,
 * coarse to fine, votes weighted by likeness and by how near the border is); Barnes, Shechtman, Finkelstein and Goldman,
 * "PatchMatch", SIGGRAPH 2009 (the search); Criminisi, Perez and Toyama, "Region filling and object removal by exemplar-based
 * image inpainting", IEEE TIP 13(9), 2004 (structure first, as one of the beginnings).
 * @param picture alpha is left as it is
 * @param hole 128 and more: fill
 * @throws CoreError `size-differs`; `no-hole`; `nothing-to-sample` where no whole 7 x 7 patch may be sampled
 */
export function textureFill<P extends Picture>(picture: P, hole: Mask, options: TextureFillOptions = {}): P {
  requireSameSize('The hole', hole, 'the picture', picture);
  if (options.sampleFrom) requireSameSize('The area to sample from', options.sampleFrom, 'the picture', picture);
  const box = workBox(hole, options.sampleFrom);
  const base = cropLevel(picture, hole, options.sampleFrom, box);
  const deepValues = isDeep(picture) ? cropPicture(picture, box).data : undefined;
  const chance = seeded(options.seed ?? 1);
  const whole = pyramid(base);
  const levels = options.started ? begun(picture, whole, box) : whole;
  const progress = options.onProgress ?? (() => undefined);
  // Memory of its own: a field keeps its place in it while others compute.
  const field = complete(levels, {
    restarts: options.started ? 0 : (options.restarts ?? 6),
    chance,
    progress,
    deep: deepValues,
  });
  return blend(picture, field, box, deepValues !== undefined);
}

function cropLevel(picture: Picture, hole: Mask, sampleFrom: Mask | undefined, box: Rect): PatchLevel {
  const part = cropPicture(picture, box);
  const open = cropPlane(hole, box);
  const from = sampleFrom && cropPlane(sampleFrom, box);
  const out = new Uint8Array(part.data.length);
  const shift = isDeep(picture) ? 8 : 0;
  for (let i = 0; i < out.length; i++) if ((i & 3) !== 3) out[i] = part.data[i] >> shift;
  return {
    width: part.width,
    height: part.height,
    picture: out,
    hole: open.data.map((v) => (v >= 128 ? 1 : 0)),
    from: from ? from.data.map((v) => (v >= 128 ? 1 : 0)) : new Uint8Array(open.data.length).fill(1),
  };
}

/** Sizes from the full one down to where the hole is about as deep as a patch reaches, and small. */
function pyramid(base: PatchLevel): PatchLevel[] {
  const away = distanceTo({ width: base.width, height: base.height, data: base.hole.map((v) => (v ? 255 : 0)) });
  let deepest = 0;
  for (let i = 0; i < away.length; i++) if (base.hole[i] && away[i] > deepest && away[i] < Infinity) deepest = away[i];
  const levels = [base];
  const openIn = (l: PatchLevel): number => l.hole.reduce((a, v) => a + v, 0);
  for (let d = deepest; d > PATCH_REACH || openIn(levels[levels.length - 1]) > FEW; d /= 2) {
    const next = halfLevel(levels[levels.length - 1]);
    if (Math.min(next.width, next.height) < 4 * PATCH_REACH || !sampleable(next)) break;
    levels.push(next);
  }
  return levels;
}

/** A beginning is followed from a quarter of the size on: what is coarser than that it says itself. */
const BEGUN_LEVELS = 3;

/** The larger sizes, their holes holding what the picture's hole holds. */
function begun(picture: Picture, levels: readonly PatchLevel[], box: Rect): PatchLevel[] {
  const shift = isDeep(picture) ? 8 : 0;
  const values = cropPicture(picture, box).data;
  let level: PatchLevel = {
    ...levels[0],
    picture: Uint8Array.from(values, (v, i) => ((i & 3) === 3 ? 0 : v >> shift)),
    hole: new Uint8Array(levels[0].hole.length),
  };
  return levels.slice(0, BEGUN_LEVELS).map((l, n) => {
    if (n > 0) level = halfLevel(level);
    return { ...l, picture: level.picture };
  });
}

/** True where some whole patch may be sampled. */
function sampleable({ width, height, hole, from }: PatchLevel): boolean {
  const size = 2 * PATCH_REACH + 1;
  const run = new Uint16Array(width);
  for (let y = 0, i = 0; y < height; y++) {
    let row = 0;
    for (let x = 0; x < width; x++, i++) {
      run[x] = hole[i] || !from[i] ? 0 : run[x] + 1;
      row = run[x] >= size ? row + 1 : 0;
      if (row >= size) return true;
    }
  }
  return false;
}

interface Completing {
  /** How often the smallest level is begun, the best beginning is kept; 0: it holds one. */
  readonly restarts: number;
  readonly chance: () => number;
  readonly progress: (share: number) => void;
  /** The full size's own values of 16 bits. @default it has 8 */
  readonly deep: Uint16Array | undefined;
}

function complete(levels: readonly PatchLevel[], { restarts, chance, progress, deep }: Completing): PatchField {
  if (!sampleable(levels[0]))
    throw new CoreError(
      'nothing-to-sample',
      'There is nothing to sample from: no whole patch of 7 × 7 px lies outside the hole and inside the area to sample from. Make that area larger.',
    );
  const last = levels.length - 1;
  // How much work a level is: its pixels; the smallest one is begun several times.
  const work = levels.map((l) => l.width * l.height);
  const all = work.reduce((a, b) => a + b, 0);
  let done = 0;
  let field = bestBeginning(levels[last], last === 0 ? deep : undefined, restarts, chance);
  done += work[last];
  for (let n = last - 1; n >= 0; n--) {
    const small = field;
    const { width } = levels[n];
    const half = small.level;
    field = new PatchField(levels[n], ownKernels(), n === 0 ? deep : undefined);
    const found = small.found.slice();
    field.guess((p) => {
      const x = p % width;
      const y = Math.floor(p / width);
      const r = PATCH_REACH;
      const u = Math.min(half.width - r - 1, Math.max(r, x >> 1));
      const v = Math.min(half.height - r - 1, Math.max(r, y >> 1));
      const s = small.slot[v * half.width + u];
      if (s < 0) return -1;
      const q = found[s];
      return (2 * Math.floor(q / half.width) + (y & 1)) * width + 2 * (q % half.width) + (x & 1);
    }, chance);
    // The first votes are the smaller size's matches, at this size's sharpness.
    field.take(field.vote(1, false, true));
    const turns = Math.max(2, Math.round(MOST_TURNS / 2 ** (last - n)));
    for (let turn = 0; turn < turns; turn++) {
      field.search((turn & 1) === 0, 1 + Math.floor(chance() * 2 ** 31));
      field.take(field.vote(2));
      progress(Math.min(0.98, (done + (work[n] * (turn + 1)) / (turns + 1)) / all));
    }
    done += work[n];
  }
  return field;
}

/** Several beginnings at the smallest size; the one whose patches fit best goes on. */
function bestBeginning(
  level: PatchLevel,
  deep: Uint16Array | undefined,
  restarts: number,
  chance: () => number,
): PatchField {
  let best: PatchField | undefined;
  let least = Infinity;
  for (let n = 0; n < Math.max(1, restarts); n++) {
    const copy = { ...level, picture: level.picture.slice() };
    if (restarts > 0) exemplarFill(copy, n === 0 ? undefined : chance);
    const field = new PatchField(copy, ownKernels(), deep);
    field.guess(() => -1, chance);
    let sum = 0;
    for (let turn = 0; turn < MOST_TURNS; turn++) {
      sum = field.search((turn & 1) === 1, 1 + Math.floor(chance() * 2 ** 31));
      // What was begun with is searched for before it is changed.
      if (turn > 0) field.take(field.vote(2));
    }
    if (sum < least) {
      least = sum;
      best = field;
    }
  }
  return best!;
}

/** The filled picture: the last votes, and the seam's difference spread over the hole. */
function blend<P extends Picture>(picture: P, field: PatchField, { left, top }: Rect, deep: boolean): P {
  const { level, pixels, open } = field;
  const { width, height } = level;
  const votes = field.vote(4, deep);
  const most = deep ? 65535 : 255;
  const offset = new Float32Array(width * height * 4);
  for (let n = open; n < pixels.length; n++) {
    const i = pixels[n];
    const j = ((top + Math.floor(i / width)) * picture.width + left + (i % width)) * 4;
    for (let c = 0; c < 3; c++)
      offset[i * 4 + c] = Math.min(most * SEAM, Math.max(-most * SEAM, picture.data[j + c] - votes[n * 4 + c]));
  }
  // Only the ring knows a difference; everything else is open to the membrane but does not count.
  const unknown = new Uint8Array(width * height).fill(1);
  for (let n = open; n < pixels.length; n++) unknown[pixels[n]] = 0;
  smoothFill(offset, unknown, { width, height, channels: 4 });
  const out = copyPicture(picture);
  for (let n = 0; n < open; n++) {
    const i = pixels[n];
    const j = ((top + Math.floor(i / width)) * picture.width + left + (i % width)) * 4;
    for (let c = 0; c < 3; c++)
      out.data[j + c] = Math.min(most, Math.max(0, Math.round(votes[n * 4 + c] + offset[i * 4 + c])));
  }
  return out;
}

/** Numbers from 0 to 1 that follow from a seed (mulberry32, public domain). */
function seeded(seed: number): () => number {
  let a = Math.imul(seed, 0x9e3779b1) >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = Math.imul(a ^ (a >>> 15), a | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
