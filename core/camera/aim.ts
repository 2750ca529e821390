import type { Pose, Stance, Vector } from './pose';

/** Direction to a place, degrees. */
function directionOf([right, up, forward]: Vector): { readonly pan: number; readonly tilt: number } {
  const degrees = 180 / Math.PI;
  return { pan: Math.atan2(right, forward) * degrees, tilt: Math.atan2(up, Math.hypot(right, forward)) * degrees };
}

/** The pose of a stance: turned by as much as its aim has gone aside since it stood at rest. */
export function aimedAt({ aim, ...pose }: Stance): Pose {
  if (!aim) return pose;
  const { position } = pose;
  const then = directionOf(aim);
  const now = directionOf(aim.map((v, i) => v - position[i]) as unknown as Vector);
  return { ...pose, pan: pose.pan + now.pan - then.pan, tilt: pose.tilt + now.tilt - then.tilt };
}
