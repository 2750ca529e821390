import type { Chain } from '../flow/chain';
import { inverseSearch } from '../flow/inverseSearch';
import type { Plane } from '../flow/plane';
import { sampledAt } from '../raster/sampledAt';
import type { DepthMap, Mask } from '../raster/picture';
import type { Frame } from './frame';
import { fitMotion, RigidMotion, type MotionSample } from './rigidMotion';

/** Samples lie so far apart, px of half the size. */
const GRID = 4;
/** Slopes below this, grey steps a px, tell nothing of where a place went. */
const TEXTURED = 2;
/** A depth edge is farther away than so many px of half the size: depth there differs by less than so much of all. */
const AWAY = 4;
const EVEN = 0.02;
/** The motion is fitted anew to what is left so many times. */
const REFITS = 2;
/** Grey that differs by so much where a place is thought to have gone makes it unsure. */
const GREY_OFF = 8;

/**
 * What is known of a motion before it is fitted: how the scene had moved by the frame next to it, or a chain of flow.
 */
export type MotionBegin = RigidMotion | Chain;

/** A key's depth, and what of it moves by itself and tells nothing of the scene's motion, 255. */
export interface KeyDepth {
  readonly depth: DepthMap;
  readonly apart?: Mask | undefined;
}

/**
 * How a key's scene has moved by a frame. The frame is taken back by what is known beforehand, and the motion fitted
 * to the flow that is
 * left; so again. A chain of flow drifts from frame to frame, a motion that is fitted anew to the key does not.
 */
export function fitFrames(
  key: Frame,
  { depth, apart }: KeyDepth,
  frame: Pick<Frame, 'half'>,
  begin: MotionBegin,
): RigidMotion {
  const places = surePlaces(key.half, depth, apart);
  let motion = begin instanceof RigidMotion ? begin : fitToChain(key, depth, places, begin);
  const out = new Float64Array(2);
  for (let refit = 0; refit < REFITS; refit++) {
    const back = takenBack(key.half, frame.half, depth, motion);
    const left = inverseSearch(key.half, back);
    const greyer = places.map((n) => {
      const x = n % key.half.width;
      const y = Math.floor(n / key.half.width);
      return sampledAt(back, x + left.dx[n], y + left.dy[n]) - key.half.data[n];
    });
    // The light may have changed meanwhile.
    const light = Float32Array.from(greyer).sort()[greyer.length >> 1] ?? 0;
    const samples = places.map((n, k): MotionSample => {
      const x = n % key.half.width;
      const y = Math.floor(n / key.half.width);
      const [rx, ry] = [left.dx[n], left.dy[n]];
      const at = depthAt(depth, key.half, n);
      motion.move(2 * x + 1, 2 * y + 1, at, out);
      const off = Math.abs(greyer[k] - light);
      return sampleOf(n, key.half, {
        depth: at,
        dx: rx + out[0] / 2,
        dy: ry + out[1] / 2,
        trust: Math.exp(-((off / GREY_OFF) ** 2)),
      });
    });
    motion = fitMotion(key.picture, samples);
  }
  return motion;
}

function fitToChain(key: Frame, depth: DepthMap, places: readonly number[], chain: Chain): RigidMotion {
  const samples = places.map((n) =>
    sampleOf(n, key.half, {
      depth: depthAt(depth, key.half, n),
      dx: chain.dx[n],
      dy: chain.dy[n],
      trust: chain.trust[n],
    }),
  );
  return fitMotion(key.picture, samples);
}

/** A sample at a place of half the size, in px of the full one. */
function sampleOf(
  n: number,
  { width }: Plane,
  { depth, dx, dy, trust }: Pick<MotionSample, 'depth' | 'dx' | 'dy' | 'trust'>,
): MotionSample {
  const x = n % width;
  const y = (n - x) / width;
  return { x: 2 * x + 1, y: 2 * y + 1, depth, dx: 2 * dx, dy: 2 * dy, trust };
}

const depthAt = ({ width, data }: DepthMap, half: Plane, n: number): number => {
  const x = n % half.width;
  return data[((2 * (n - x)) / half.width) * width + 2 * x] / 65535;
};

/**
 * Places with texture, away from depth edges: beside those, flow is that of the one side or of the other, and the
 * motion would be biased
 * towards their mean.
 */
function surePlaces(half: Plane, depth: DepthMap, apart: Mask | undefined): number[] {
  const { width, height, data } = half;
  const places: number[] = [];
  for (let y = AWAY; y < height - AWAY; y += GRID)
    for (let x = AWAY; x < width - AWAY; x += GRID) {
      const i = y * width + x;
      if (Math.abs(data[i + 1] - data[i - 1]) + Math.abs(data[i + width] - data[i - width]) < 2 * TEXTURED) continue;
      const at = depthAt(depth, half, i);
      if (apart && apart.data[2 * y * apart.width + 2 * x] > 0) continue;
      const even = [1, -1, width, -width, width + 1, width - 1, 1 - width, -1 - width].every(
        (step) => Math.abs(depthAt(depth, half, i + AWAY * step) - at) < EVEN,
      );
      if (even) places.push(i);
    }
  return places;
}

/** A frame as it would look from the key, where the motion is right. */
function takenBack(key: Plane, frame: Plane, depth: DepthMap, motion: RigidMotion): Plane {
  const { width, height } = key;
  const data = new Float32Array(width * height);
  const out = new Float64Array(2);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      motion.move(2 * x + 1, 2 * y + 1, depthAt(depth, key, i), out);
      data[i] = sampledAt(frame, x + out[0] / 2, y + out[1] / 2);
    }
  return { width, height, data };
}
