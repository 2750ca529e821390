import { CoreError } from '../error';
import { before, noChain, type Chain } from '../flow/chain';
import { inverseSearch } from '../flow/inverseSearch';
import type { Plane } from '../flow/plane';
import { trustOf } from '../flow/trust';
import { fastGlobalSmoother } from '../raster/fastGlobalSmoother';
import { enlargePlane } from '../raster/enlargePlane';
import type { DepthMap, Picture8 } from '../raster/picture';
import type { Frames } from './carryKeys';
import { frameOf } from './frame';
import { fitMotion, type MotionSample, type RigidMotion } from './rigidMotion';

/** So many frames to both sides are looked at. */
const AROUND = 12;
/** A camera that takes the picture by less tells nothing, px of half the size. */
const LEAST = 1.5;
/** Depth and motion are found in turns so often. */
const TURNS = 12;
/** Samples lie so far apart, px of half the size. */
const GRID = 5;
/** Slopes below this, across and down together, tell nothing of where a place went, grey steps over two px. */
const TEXTURED = 4;
/** What a motion does to a place is read off between no depth and this one, of all depth. */
const STEP = 0.5;
/** Where neither side is sure at all their mean counts by so little, of 1. */
const UNSURE = 1e-4;
/** So much of the picture lies beyond the farthest and before the nearest depth that is told apart. */
const BEYOND = 0.02;
/** How far depth goes on along even colours, and what difference of them is an edge (8-bit steps, three channels). */
const SMOOTHING = { lambda: 400, sigma: 10, passes: 3 };

/**
 * A first depth of a frame from the camera's own motion: nearer things go farther. The motion is fitted to a guess of
 * depth, depth read off the motion, and so again; where flow is unsure, depth goes on along the picture. What moves by
 * itself is wrong, and how deep it all is remains unknown: farthest and nearest are 0 and 1.
 * Source: Longuet-Higgins and Prazdny 1980 (how depth shows in motion).
 * @throws CoreError `camera-still` where nothing can be told from the motion
 */
export async function depthFromMotion(frames: Frames, n: number): Promise<DepthMap> {
  const picture = await frames.frame(n);
  const half = frameOf(picture).half;
  const says: Said[] = [];
  for (const way of [1, -1]) {
    const last = Math.max(0, Math.min(frames.count - 1, n + way * AROUND));
    const flow = await flowTo(frames, half, n, last);
    const said = flow && readOff(flow, half);
    if (said) says.push(said);
  }
  if (says.length === 0)
    throw new CoreError(
      'camera-still',
      `The camera hardly moves around frame ${n + 1}: no depth can be read off its motion. Begin with a start from the picture, or with marks.`,
    );
  return fitted(picture, half, says);
}

/** Depth at half the size, 0 to 1, and how sure it is. */
interface Said {
  readonly depth: Float32Array;
  readonly trust: Float32Array;
}

/** Where pixels of a frame have gone to by another one; undefined where there is none on that side. */
async function flowTo(frames: Frames, half: Plane, from: number, to: number): Promise<Chain | undefined> {
  if (from === to) return undefined;
  const way = to > from ? 1 : -1;
  // Composed from the far end: from each frame to the last one.
  let chain: Chain | undefined;
  let next = frameOf(await frames.frame(to)).half;
  for (let n = to - way; n !== from - way; n -= way) {
    const here = n === from ? half : frameOf(await frames.frame(n)).half;
    const away = inverseSearch(here, next);
    chain = before(away, trustOf(away, inverseSearch(next, here)), chain ?? noChain(here));
    next = here;
  }
  return chain;
}

/** Motion and depth in turns. Undefined where the camera moves too little. */
function readOff(flow: Chain, half: Plane): Said | undefined {
  const { width, height } = half;
  const far = Float32Array.from(flow.dx, (dx, i) => Math.hypot(dx, flow.dy[i]));
  if (quantile(far, 0.8) < LEAST) return undefined;
  let depth = stretched(far);
  for (let turn = 0; turn < TURNS; turn++) {
    const samples: MotionSample[] = [];
    for (let y = GRID; y < height - GRID; y += GRID)
      for (let x = GRID; x < width - GRID; x += GRID) {
        const i = y * width + x;
        const slope =
          Math.abs(half.data[i + 1] - half.data[i - 1]) + Math.abs(half.data[i + width] - half.data[i - width]);
        if (slope > TEXTURED)
          samples.push({ x, y, depth: depth[i], dx: flow.dx[i], dy: flow.dy[i], trust: flow.trust[i] });
      }
    depth = stretched(depthBy(fitMotion(half, samples), flow));
  }
  return { depth, trust: flow.trust };
}

/** The depth that a motion needs to take each pixel where it has gone. */
function depthBy(motion: RigidMotion, flow: Chain): Float32Array {
  const { width, height } = flow;
  const depth = new Float32Array(width * height);
  const [none, most] = [new Float64Array(2), new Float64Array(2)];
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      motion.move(x, y, 0, none);
      motion.move(x, y, STEP, most);
      const [ax, ay] = [(most[0] - none[0]) / STEP, (most[1] - none[1]) / STEP];
      depth[i] = (ax * (flow.dx[i] - none[0]) + ay * (flow.dy[i] - none[1])) / Math.max(1e-6, ax * ax + ay * ay);
    }
  return depth;
}

/** The same from 0 to 1: a little of either end is cut off. */
function stretched(values: Float32Array): Float32Array {
  const [low, high] = [quantile(values, BEYOND), quantile(values, 1 - BEYOND)];
  const span = Math.max(1e-6, high - low);
  return values.map((v) => Math.min(1, Math.max(0, (v - low) / span)));
}

const quantile = (values: Float32Array, share: number): number =>
  Float32Array.from(values).sort()[Math.min(values.length - 1, Math.floor(share * values.length))];

/** What both sides say, along the picture where it is unsure. */
function fitted(picture: Picture8, half: Plane, says: readonly Said[]): DepthMap {
  const { width, height } = picture;
  const n = half.width * half.height;
  const [sum, weight] = [new Float32Array(n), new Float32Array(n)];
  for (const { depth, trust } of says)
    for (let i = 0; i < n; i++) {
      sum[i] += depth[i] * trust[i];
      weight[i] += trust[i] + UNSURE;
    }
  const [values, weights] = [sum, weight].map((plane) => enlargePlane(plane, half, { width, height }));
  for (const plane of [values, weights]) fastGlobalSmoother(plane, picture.data, { width, height, ...SMOOTHING });
  const depth = stretched(values.map((v, i) => v / Math.max(1e-6, weights[i])));
  return { width, height, data: Uint16Array.from(depth, (d) => Math.round(65535 * d)) };
}
