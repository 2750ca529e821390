import { before, noChain, type Chain } from '../flow/chain';
import { inverseSearch } from '../flow/inverseSearch';
import { trustOf } from '../flow/trust';
import type { DepthMap, Mask } from '../raster/picture';
import { fitFrames, type MotionBegin } from './fitFrames';
import type { Frame } from './frame';
import type { RigidMotion } from './rigidMotion';

/** A key frame and its depth. */
export interface SeenKey {
  readonly frame: number;
  readonly depth: DepthMap;
  /** What moves by itself there, and is carried by itself, 255. */
  readonly apart: Mask | undefined;
  readonly seen: Frame;
}

/** What a key says beforehand of a frame. */
export interface KeySays {
  /** From the frame to the key, at half the size. */
  readonly chain: Chain;
  /** How the scene has moved. */
  readonly motion: RigidMotion;
}

/** A way from a key from frame to frame; each motion begins with what was found for the frame before it. */
export class Walk {
  private last: Frame;
  private chain: Chain;
  private begin: MotionBegin | undefined;

  constructor(private readonly key: SeenKey) {
    this.last = key.seen;
    this.chain = noChain(key.seen.half);
  }

  step(frame: Frame): KeySays {
    const away = inverseSearch(this.last.half, frame.half);
    const home = inverseSearch(frame.half, this.last.half);
    this.chain = before(home, trustOf(home, away), this.chain);
    const begin = this.begin ?? { ...away, trust: trustOf(away, home) };
    const motion = fitFrames(this.key.seen, this.key, frame, begin);
    this.begin = motion;
    this.last = frame;
    return { chain: this.chain, motion };
  }
}

/** A chain as it waits to be used: 1.25 bytes a pixel of the frame. */
export interface WaitingChain {
  readonly width: number;
  readonly height: number;
  /** 32nds of a px. */
  readonly dx: Int16Array;
  readonly dy: Int16Array;
  readonly trust: Uint8Array;
}

const PARTS = 32;

export function waiting({ width, height, dx, dy, trust }: Chain): WaitingChain {
  const n = width * height;
  const out = { width, height, dx: new Int16Array(n), dy: new Int16Array(n), trust: new Uint8Array(n) };
  for (let i = 0; i < n; i++) {
    out.dx[i] = Math.round(PARTS * dx[i]);
    out.dy[i] = Math.round(PARTS * dy[i]);
    out.trust[i] = Math.round(255 * trust[i]);
  }
  return out;
}

export function takenUp({ width, height, dx, dy, trust }: WaitingChain): Chain {
  const chain = noChain({ width, height });
  for (let i = 0; i < dx.length; i++) {
    chain.dx[i] = dx[i] / PARTS;
    chain.dy[i] = dy[i] / PARTS;
    chain.trust[i] = trust[i] / 255;
  }
  return chain;
}
