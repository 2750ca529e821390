import type { Ease } from '../../time/ease';
import { STANDING, type Stance } from '../pose';
import type { StanceKey } from '../move';
import type { SourceCamera } from '../sourceCamera';
import { inverseDistance } from '../sourceCamera';

/** What a ready move takes its size from. */
export interface MoveRoom {
  readonly camera: SourceCamera;
  /** The source's size, px. */
  readonly width: number;
  readonly height: number;
  /** How many frames it has. */
  readonly frames: number;
  /** Depth on the ruler that keeps its size, or that is gone round. */
  readonly depth: number;
}

/** A move that is made in one step, in size to its scene. It leaves ordinary keys behind. */
export interface ReadyMove {
  readonly kind: string;
  readonly name: string;
  /** What it does, in a few words. */
  readonly does: string;
  readonly path: 'straight' | 'smooth';
  /** Whether it goes by the depth that is chosen. @default false */
  readonly byDepth?: boolean;
  /** @param strength 1 is as much as is usual, 0 nothing */
  keys(room: MoveRoom, strength: number): StanceKey[];
}

/** At strength 1 the nearest moves against the farthest by so much of the width. */
const SIDEWAYS = 0.05;
/** At strength 1 the camera goes so much of the way to the nearest. */
const FORWARD = 0.16;

/** How far to the side a strength goes, in the scene's unit. */
export function sideways({ camera, width }: MoveRoom, strength: number): number {
  const spread = camera.focalPx * (inverseDistance(1, camera) - inverseDistance(0, camera));
  return (strength * SIDEWAYS * width) / spread;
}

/** How far forward a strength goes, in the scene's unit. */
export const forward = ({ camera }: MoveRoom, strength: number): number => strength * FORWARD * camera.near;

/**
 * The zoom that keeps the frame filled where the camera goes aside: the nearest then moves against the farthest, which
 * stands still.
 * @param length of the frame that way, px
 */
export function covering({ camera }: MoveRoom, aside: number, length: number): number {
  const px = camera.focalPx * Math.abs(aside) * (inverseDistance(1, camera) - inverseDistance(0, camera));
  return 1 / Math.max(0.5, 1 - (2 * px) / length);
}

/** The farthest place on the line of sight, which then stands still; null where it is infinitely far and does so anyway. */
export const farthest = ({ camera }: MoveRoom): Stance['aim'] =>
  Number.isFinite(camera.far) ? [0, 0, camera.far] : null;

/** A key at a share of the move's time. */
export function keyAt(room: MoveRoom, share: number, value: Partial<Stance>, ease: Ease = 'gentle'): StanceKey {
  return { frame: Math.round(share * (room.frames - 1)), ease, value: { ...STANDING, ...value } };
}

/** Passes the picture from one side to the other; the farthest stands still, and the frame stays filled. */
export function passing(room: MoveRoom, strength: number, way: 'right' | 'up', ease: Ease): StanceKey[] {
  const reach = sideways(room, strength) / 2;
  const aim = farthest(room);
  const zoom = covering(room, reach, way === 'right' ? room.width : room.height);
  return [-reach, reach].map((v, n) =>
    keyAt(room, n, { position: way === 'right' ? [v, 0, 0] : [0, v, 0], aim, zoom }, ease),
  );
}
