import { layoutOf } from '../../depth/planes/layout';
import { smoothFill } from '../smoothFill';
import { barsInto } from './bars';
import { foretell, worthForetelling, type Foretelling, type Foretold } from './foretell';
import type { Ground } from './ground';
import { barsBefore, layBars } from './layBars';
import { planeFrame, type PlaneFrame } from './planeFrame';

/** So much of all detail beside the hole must be foretold: below the first it is not believed, from the second on all of it. */
const FROM = 0.2;
const FULLY = 0.35;
/** On a plane the light changes while the ground goes on: so much of a difference is made good, and votes are so much softer. */
const FORGIVEN = 0.8;
const SOFTER = 2;

export interface GoingOn extends Omit<Foretelling, 'forgiven'> {
  /** Depth of the ground where it is known, 0 infinitely far to 1. @default none: no planes */
  readonly depth?: Float32Array;
}

/** A ground that went on into its hole. */
export interface WentOn {
  /** Red, green and blue of every place, interleaved; known ones as they were. */
  readonly colours: Float32Array;
  /** How far what the hole shows was foretold, 0 to 1 a place; the rest is smooth. */
  readonly sure: Float32Array;
}

/**
 * How a ground goes on into its hole: each plane of it by what repeats itself on it, what lies on none by the picture's own
 * repetitions, as far as these are seen to hold; else smoothly.
 * Sources: He and Sun, "Statistics of patch offsets for image completion", ECCV 2012, with a weighted vote in place of their cut;
 * Huang and others (planeFrame).
 */
export function goOn(ground: Ground, { depth, ...how }: GoingOn): WentOn {
  const { width, height, hole, known } = ground;
  const colours = Float32Array.from(ground.colours);
  // What lies beside a bar goes on without it; over that the bar itself.
  const bars = barsInto(ground);
  const before = barsBefore(ground, bars);
  smoothFill(
    colours,
    known.map((v, i) => (v && !before[i] ? 0 : 1)),
    { width, height, channels: 3, sweeps: 40 },
  );
  before.forEach((v, i) => {
    if (v) for (let c = i * 3; c < i * 3 + 3; c++) colours[c] = ground.colours[c];
  });
  layBars(ground, bars, colours);
  const out: WentOn = { colours, sure: new Float32Array(hole.length) };
  const onPlanes = { ...how, kappa: SOFTER * how.kappa, forgiven: FORGIVEN };
  const frames = (depth ? framesOf(ground, depth) : []).filter(({ frame }) => {
    how.onProgress?.(0);
    return worthForetelling(frame.ground, onPlanes);
  });
  const steps = 1 + frames.length;
  const from = (n: number) => ({
    onProgress: (share: number): void => how.onProgress?.((n + share) / steps),
  });
  const plain = foretell(ground, { ...how, forgiven: 0, ...from(0) });
  if (plain) {
    const all = believedOf(plain);
    for (let i = 0; i < hole.length; i++)
      if (hole[i] && plain.said[i])
        take(out, i, plain.colours.subarray(i * 3, i * 3 + 3), Math.max(all, plain.gate[i]));
  }
  frames.forEach(({ frame, holds }, n) => {
    const foretold = foretell(frame.ground, { ...onPlanes, ...from(1 + n) });
    if (foretold) bringBack(out, ground, { frame, holds, foretold });
  });
  how.onProgress?.(1);
  return out;
}

/** Takes a colour to a place as far as it is believed. */
function take({ colours, sure }: WentOn, i: number, colour: Float32Array, share: number): void {
  for (let c = 0; c < 3; c++) colours[i * 3 + c] += share * (colour[c] - colours[i * 3 + c]);
  sure[i] += share * (1 - sure[i]);
}

const believedOf = ({ held }: Foretold): number => Math.min(1, Math.max(0, (held - FROM) / (FULLY - FROM)));

interface OnPlane {
  readonly frame: PlaneFrame;
  /** Whether a place of the hole lies on the plane. */
  readonly holds: (i: number) => boolean;
}

function framesOf(ground: Ground, depth: Float32Array): OnPlane[] {
  const { width, height, known, hole } = ground;
  const layout = layoutOf({ width, height, depth, known, hole });
  return layout.planes.flatMap((_, n) => {
    const frame = planeFrame(ground, depth, layout, n);
    return frame ? [{ frame, holds: (i: number) => layout.labels[i] === n }] : [];
  });
}

/** Brings what was foretold of a plane back into the picture. */
function bringBack(
  out: WentOn,
  { width, height, hole }: Ground,
  { frame, holds, foretold }: OnPlane & { readonly foretold: Foretold },
): void {
  // By place it would let false windows through: of a plane all is believed alike.
  const share = believedOf(foretold);
  if (share === 0) return;
  const colour = new Float32Array(3);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++)
      if (hole[i] && holds(i) && sample(frame, foretold, { x, y }, colour)) take(out, i, colour, share);
}

/** What a frame says of a place of the picture; false where it says nothing. */
function sample(
  frame: PlaneFrame,
  { colours, said }: Foretold,
  { x, y }: { x: number; y: number },
  to: Float32Array,
): boolean {
  const { width, height } = frame.ground;
  const middle = frame.place(x, y);
  if (!middle) return false;
  // Farther parts of a plane are smaller in the picture than in the frame: a px holds several of it.
  const many = Math.min(3, Math.ceil(1 / middle.scale - 0.01));
  let weight = 0;
  to.fill(0);
  for (let m = 0; m < many * many; m++) {
    const p = frame.place(x + ((m % many) + 0.5) / many - 0.5, y + (Math.floor(m / many) + 0.5) / many - 0.5);
    if (!p) continue;
    const x0 = Math.floor(p.x);
    const y0 = Math.floor(p.y);
    for (let n = 0; n < 4; n++) {
      const u = x0 + (n & 1);
      const v = y0 + (n >> 1);
      const k = v * width + u;
      if (u < 0 || v < 0 || u >= width || v >= height || !said[k]) continue;
      const w = (n & 1 ? p.x - x0 : 1 - p.x + x0) * (n >> 1 ? p.y - y0 : 1 - p.y + y0);
      weight += w;
      for (let c = 0; c < 3; c++) to[c] += w * colours[k * 3 + c];
    }
  }
  if (weight < 1e-3) return false;
  for (let c = 0; c < 3; c++) to[c] /= weight;
  return true;
}
