import { inverseSearch } from '../../flow/inverseSearch';
import { trustOf } from '../../flow/trust';
import type { DepthMap, Mask } from '../../raster/picture';
import { fitFrames, type MotionBegin } from '../fitFrames';
import type { Frame } from '../frame';
import { NOT_RIGID, type RigidMotion } from '../rigidMotion';

/** A frame that motions are fitted to. */
export type Half = Pick<Frame, 'half'>;

/** A frame with its depth, from which motions are fitted. */
export interface FittedFrom {
  readonly frame: number;
  readonly seen: Frame;
  readonly depth: DepthMap;
  /** What moves by itself, 255. */
  readonly apart: Mask;
}

/** Flow finds its way over so many frames at once. */
const HOP = 12;

/** How the scene has moved from one frame to others, fitted when it is asked for and kept. */
export class Motions {
  private readonly known = new Map<number, RigidMotion>();
  private readonly lost = new Set<number>();

  /** @param frame gives frames by their numbers */
  constructor(
    private readonly from: FittedFrom,
    private readonly frame: (n: number) => Promise<Half>,
  ) {}

  /** Undefined where the scene does not move as one: nothing can be said of where a place has gone. */
  async to(n: number): Promise<RigidMotion | undefined> {
    if (this.lost.has(n)) return undefined;
    const found = this.known.get(n) ?? (await this.fitted(n, await this.begin(n)));
    if (found.residual >= NOT_RIGID) {
      this.lost.add(n);
      return undefined;
    }
    this.known.set(n, found);
    return found;
  }

  /** The motion to a frame straight from flow, however far it is. */
  async straightTo(n: number): Promise<RigidMotion> {
    return this.fitted(n, await this.flowTo(n));
  }

  private async fitted(n: number, begin: MotionBegin): Promise<RigidMotion> {
    const { seen, depth, apart } = this.from;
    return fitFrames(seen, { depth, apart }, await this.frame(n), begin);
  }

  /** What is known of the frame next to it, or of one on the way there; else flow. */
  private async begin(n: number): Promise<MotionBegin> {
    const beside = this.known.get(n - 1) ?? this.known.get(n + 1);
    if (beside) return beside;
    const away = n - this.from.frame;
    const before = Math.abs(away) > HOP ? await this.to(n - Math.sign(away) * HOP) : undefined;
    return before ?? this.flowTo(n);
  }

  private async flowTo(n: number): Promise<MotionBegin> {
    const here = this.from.seen.half;
    const there = (await this.frame(n)).half;
    const away = inverseSearch(here, there);
    return { ...away, trust: trustOf(away, inverseSearch(there, here)) };
  }
}
