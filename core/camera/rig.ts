import { sourceEyePosition, type Budget, type SourceEye } from '../stereo/parallax';
import type { Pose } from './pose';
import type { SourceCamera } from './sourceCamera';

/** Two eyes that ride on a camera: parallel, their sensors shifted so that the screen plane lies where the budget puts it. */
export interface Rig {
  readonly budget: Budget;
  readonly sourceEye: SourceEye;
  readonly swapEyes: boolean;
  /** Whether their base stays as it is at rest, or follows the camera so that the budget is kept. */
  readonly base: 'stays' | 'follows';
}

/** Where one eye is beside the camera. */
export interface EyePlace {
  /** To the right, in the scene's unit. */
  readonly offset: number;
  /** How far its picture is shifted to the right, px of the source. */
  readonly shiftPx: number;
}

/** The camera's own eye. */
export const CENTRE: EyePlace = { offset: 0, shiftPx: 0 };

/**
 * The place of an eye. At rest what it sees has exactly the budget's parallax: p = B f (1/Zscreen - 1/Z) for parallel
 * cameras with shifted sensors.
 *
 * @param eye -1/2 left to +1/2 right
 */
export function eyePlace(rig: Rig, camera: SourceCamera, pose: Pose, eye: number): EyePlace {
  const factor = (rig.swapEyes ? -eye : eye) - sourceEyePosition(rig.sourceEye);
  const { nearPx, farPx } = rig.budget;
  const [, , forward] = pose.position;
  const follows = rig.base === 'follows';
  // Inverse distances of the ruler's ends, seen from where the base is set.
  const ends = [camera.near, camera.far].map((z) => {
    const w = 1 / z;
    return follows ? w / Math.max(0.02, 1 - w * forward) : w;
  });
  const focal = camera.focalPx * (follows ? pose.zoom : 1);
  const depth = ends[0] - ends[1];
  const base = depth === 0 ? 0 : (farPx - nearPx) / (focal * depth);
  const shiftPx = (farPx + focal * base * ends[1]) * (follows ? 1 : pose.zoom);
  return { offset: base * factor, shiftPx: shiftPx * factor };
}
