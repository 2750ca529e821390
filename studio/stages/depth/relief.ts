import type { ReliefPose } from '@/core/depth/relief/reliefView';
import type { Spike } from '@/core/depth/spikes';

/** What looking at the map as a surface knows. */
export interface ReliefPart {
  pose: ReliefPose;
  /** The hand is turning it. */
  turning: boolean;
  /** A spike stands out by so much of depth at least, and is so narrow at most, px. */
  by: number;
  wide: number;
  /** Those that were found, full-size px; undefined while they are looked for. */
  spikes: readonly Omit<Spike, 'pixels'>[] | undefined;
  chosen: number | undefined;
  /** Plates without a body. */
  flat: readonly string[];
  /** The row along which the map is cut, share of the picture's height. */
  row: number;
}

export const FROM_THE_SIDE: ReliefPose = { turnedDeg: 38, tippedDeg: 16, stretch: 1 };
export const FROM_THE_FRONT: ReliefPose = { ...FROM_THE_SIDE, turnedDeg: 0, tippedDeg: 0 };
export const FIRST_RELIEF: ReliefPart = {
  ...{ pose: FROM_THE_SIDE, turning: false, by: 0.12, wide: 6 },
  ...{ spikes: undefined, chosen: undefined, flat: [], row: 0.41 },
};

/** So little of its own depth is no body. */
export const FLAT = 0.01;
