import { ColourModel } from '../../matte/colourModel';
import { RegionPaint } from '../../matte/regionPaint';
import { smallPatches } from '../../matte/specks';
import { STROKE_IN, STROKE_OUT } from '../../matte/strokes';
import { boundsOf } from '../../raster/bounds';
import { boxMean } from '../../raster/box';
import { cropPicture, cropPlane } from '../../raster/crop';
import { distanceTo } from '../../raster/distance';
import type { Rect } from '../../raster/geometry';
import type { Mask, Picture8 } from '../../raster/picture';
import { cameFrom, type PlacedLayer } from './placedLayer';
import { IN } from './template';

/**
 * So far to both sides of a layer's outline its frame may decide otherwise, px; beyond that, so much more is looked at.
 */
const [REACH, ROOM] = [12, 12];
/** What has moved farther than that is followed by beginning with what came out; after so many turns little more comes. */
const TURNS = 2;
/** Within a slender cut-out no deeper than this part of its half-width. */
const CORE = 0.6;
/** The key's surroundings are learnt from so far around it, px. */
const RING = 24;
/** A colour model learns from so many pixels; more tell nothing more. */
const SAMPLES = 3000;
/** What looks otherwise is so large at least, px. */
const SMALLEST = 24;
/** And in the mean over it likelier what it is said to be, by the key's own colours: by e to this power. */
const LIKELIER = 1.5;
/** A pixel tells no more than this, whatever its colour: the same power. */
const MOST = 6;
/** Colours that differ by less are the same, grey levels in the mean over the channels. */
const ALIKE = 16;

/** What a key's cut-out and its surroundings look like. */
export interface KeyColours {
  readonly inside: ColourModel;
  readonly around: ColourModel;
}

/** A key whose cut-out was found in the frame. */
export interface PlacedKey {
  readonly picture: Picture8;
  readonly colours: KeyColours;
  readonly placed: PlacedLayer;
}

/** Learns both from a key; undefined where nothing is in it, or all of it is. */
export function keyColours(picture: Picture8, matte: Mask): KeyColours | undefined {
  const { width, height, data } = matte;
  const rect = boundsOf(width, height, (i) => data[i] >= IN, RING);
  if (!rect) return undefined;
  const part = cropPlane(matte, rect);
  const away = distanceTo(part, true);
  const seen = cropPicture(picture, rect);
  const [inside, around] = [
    modelOf(seen, (i) => part.data[i] === 255),
    modelOf(seen, (i) => away[i] > 2 && away[i] <= RING),
  ];
  return inside && around ? { inside, around } : undefined;
}

function modelOf({ data }: Picture8, is: (i: number) => boolean): ColourModel | undefined {
  const at: number[] = [];
  for (let i = 0; i < data.length / 4; i++) if (is(i)) at.push(i);
  if (at.length === 0) return undefined;
  const each = Math.ceil(at.length / SAMPLES);
  const chosen = at.filter((_, n) => n % each === 0);
  const colours = new Float32Array(chosen.length * 3);
  chosen.forEach((i, n) => {
    colours.set(data.subarray(4 * i, 4 * i + 3), 3 * n);
  });
  return new ColourModel(colours, new Float32Array(chosen.length).fill(1));
}

/**
 * A cut-out that changes its shape no longer fits its layer: along the layer's outline the frame's own colours decide
 * anew, as region paint does, with the layer's middle and what lies well beyond it as strokes. What comes out
 * otherwise is taken only where the frame does not show what the key shows there, and the key's colours say clearly
 * that it is better; everywhere else the layer stays as it was laid, bit by bit: its outline is good to half a pixel, a
 * region's is not.
 * Sources: Rother, Kolmogorov and Blake, "GrabCut", SIGGRAPH 2004, for the models; measured in docs/computations.md.
 * @param matte the layer as it was laid
 */
export function decideAnew(frame: Picture8, matte: Mask, keys: readonly PlacedKey[]): Mask {
  if (keys.length === 0) return matte;
  let decided = matte;
  for (let turn = 0; turn < TURNS; turn++) {
    const before = decided;
    decided = decideOnce(frame, before, keys);
    if (decided === before) break;
  }
  return decided;
}

function decideOnce(frame: Picture8, matte: Mask, keys: readonly PlacedKey[]): Mask {
  const { width, height, data } = matte;
  const rect = boundsOf(width, height, (i) => data[i] >= IN, REACH + ROOM);
  if (!rect) return matte;
  const picture = cropPicture(frame, rect);
  const laid = cropPlane(matte, rect);
  const likelier = likelierIn(picture, keys);
  const strokes = strokesOf(laid, likelier);
  if (!strokes.data.includes(STROKE_IN) || !strokes.data.includes(STROKE_OUT)) return matte;
  const solved = new RegionPaint(picture).solve(strokes);
  const better = new Uint8Array(laid.data.length);
  for (const sign of [1, -1]) {
    // What comes in, then what goes out.
    const other: Mask = {
      ...laid,
      data: laid.data.map((v, i) => (sign * (Number(solved.data[i] >= IN) - Number(v >= IN)) > 0 ? 255 : 0)),
    };
    for (const { pixels } of smallPatches(other, Infinity, true)) {
      if (pixels.length < SMALLEST) continue;
      let says = 0;
      for (const i of pixels) says += shownByKey(picture, i, { keys, rect }) ? -MOST : sign * likelier[i];
      if (says >= LIKELIER * pixels.length) for (const i of pixels) better[i] = 255;
    }
  }
  return better.includes(255) ? joined(matte, { rect, laid, solved, better }) : matte;
}

/** How much likelier a px is the cut-out's than its surroundings', by the colours of the nearest key: its logarithm. */
function likelierIn({ data }: Picture8, keys: readonly PlacedKey[]): Float32Array {
  const { inside, around } = keys.reduce((a, b) => (b.placed.near > a.placed.near ? b : a)).colours;
  const out = new Float32Array(data.length / 4);
  for (let i = 0; i < out.length; i++) {
    const [r, g, b] = [data[4 * i], data[4 * i + 1], data[4 * i + 2]];
    out[i] = Math.min(MOST, Math.max(-MOST, around.cost(r, g, b) - inside.cost(r, g, b)));
  }
  return out;
}

const at = new Float64Array(2);

/** Whether a key shows at the layer's place what the frame shows there: then what the key says holds. */
function shownByKey(
  part: Picture8,
  i: number,
  { keys, rect }: { readonly keys: readonly PlacedKey[]; readonly rect: Rect },
): boolean {
  const x = i % part.width;
  return keys.some(({ placed, picture }) => {
    cameFrom(placed, rect.left + x, rect.top + (i - x) / part.width, at);
    const [u, v] = [Math.round(at[0]), Math.round(at[1])];
    if (u < 0 || v < 0 || u >= picture.width || v >= picture.height) return false;
    const o = 4 * (v * picture.width + u);
    let off = 0;
    for (let c = 0; c < 3; c++) off += Math.abs(part.data[4 * i + c] - picture.data[o + c]);
    return off < 3 * ALIKE;
  });
}

/**
 * The middle of what is laid as a stroke that says in, what lies beyond its reach as one that says out, but for what
 * looks like the other side.
 */
function strokesOf(laid: Mask, likelier: Float32Array): Mask {
  const within = distanceTo(laid);
  const beyond = distanceTo(laid, true);
  const deepest = within.reduce((most, v) => (Number.isFinite(v) && v > most ? v : most), 0);
  const core = Math.min(REACH, CORE * deepest);
  return {
    ...laid,
    data: laid.data.map((_, i) => {
      if (within[i] > core) return likelier[i] > -LIKELIER ? STROKE_IN : 0;
      return beyond[i] > REACH && likelier[i] < LIKELIER ? STROKE_OUT : 0;
    }),
  };
}

interface Decided {
  readonly rect: Rect;
  readonly laid: Mask;
  readonly solved: Mask;
  readonly better: Uint8Array;
}

/** The layer with what is better put in; its new edge is as soft as the mean over 3 x 3 px. */
function joined(matte: Mask, { rect, laid, solved, better }: Decided): Mask {
  const { width, height } = laid;
  const hard = Float32Array.from(laid.data, (v, i) => (better[i] ? solved.data[i] : v));
  const soft = boxMean(hard, width, height, 1);
  const beside = boxMean(Float32Array.from(better), width, height, 1);
  const data = matte.data.slice();
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++)
      if (beside[i] > 0) data[(rect.top + y) * matte.width + rect.left + x] = Math.round(soft[i]);
  return { ...matte, data };
}
