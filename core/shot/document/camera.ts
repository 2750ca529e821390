import { z } from 'zod';
import { focalOfField, middleOf, USUAL_FIELD, type SourceCamera } from '../../camera/sourceCamera';
import type { Size } from '../../kind';
import type { Frame } from './source';

/** Deepest scene that is told apart from one without end: the farthest so many times farther than the nearest. */
export const DEEPEST = 1000;

/** The camera that took the source, and the scene before it. */
export const cameraSchema = z.strictObject({
  /** Focal length, px of the source; null: the usual field of view. */
  focalPx: z.number().min(1).max(1e6).nullable(),
  /** Where its line of sight meets the picture as it came, px, pixel centres at whole numbers; null: in the middle. */
  principalPoint: z.strictObject({ x: z.number().min(-1e5).max(1e5), y: z.number().min(-1e5).max(1e5) }).nullable(),
  /** Distance of the nearest, in metres or whatever the artist thinks in. */
  near: z.number().min(0.001).max(1e6),
  /** How many times farther the farthest is; null: without end. */
  depth: z.number().min(1.01).max(DEEPEST).nullable(),
  /** Whether the eyes' base stays as the camera moves, or follows so that the budget is kept. */
  base: z.enum(['stays', 'follows']),
});
export type CameraPart = z.infer<typeof cameraSchema>;

/** A camera as a shot begins with it. */
export const BEGIN_CAMERA: CameraPart = { focalPx: null, principalPoint: null, near: 2, depth: 6, base: 'stays' };

/**
 * The camera of a source in plain numbers.
 * @param frame of an extended canvas: the picture as it came
 */
export function sourceCameraOf(
  { focalPx, principalPoint, near, depth }: CameraPart,
  source: Size,
  frame: Frame | null = null,
): SourceCamera {
  const came = frame ?? { ...source, left: 0, top: 0 };
  const middle = principalPoint ?? middleOf(came);
  return {
    focalPx: focalPx ?? focalOfField(USUAL_FIELD, came.width),
    principalPoint: { x: middle.x + came.left, y: middle.y + came.top },
    near,
    far: depth === null ? Infinity : near * depth,
  };
}
