/** A place or a way in the scene: right, up, forward, in the scene's unit. */
export type Vector = readonly [right: number, up: number, forward: number];

/** How the camera stands at one moment. */
export interface Pose {
  /** From the source camera. */
  readonly position: Vector;
  /** Degrees to the right; turned first. */
  readonly pan: number;
  /** Degrees up, about the turned camera's own axis. */
  readonly tilt: number;
  /** Degrees clockwise, about the line of sight: what is seen turns the other way. */
  readonly roll: number;
  /** Multiplies the focal length. */
  readonly zoom: number;
}

/** How a camera is set: its pose, beside what it turns to by itself. */
export interface Stance extends Pose {
  /** What keeps its place in the picture: pan and tilt come on top of that. Null: it does not turn by itself. */
  readonly aim: Vector | null;
}

/** The source camera's own pose: what it sees is the source. */
export const AT_REST: Pose = { position: [0, 0, 0], pan: 0, tilt: 0, roll: 0, zoom: 1 };

/** The camera of a source that never moves. */
export const STANDING: Stance = { position: [0, 0, 0], aim: null, pan: 0, tilt: 0, roll: 0, zoom: 1 };

/** What comes before the camera when it turns: rows of the matrix that takes (right, down, forward) into its own. */
export function turnOf({ pan, tilt, roll }: Pick<Pose, 'pan' | 'tilt' | 'roll'>): readonly number[] {
  const [sp, cp, st, ct, sr, cr] = [pan, tilt, roll].flatMap((degrees) => {
    const a = (degrees * Math.PI) / 180;
    return [Math.sin(a), Math.cos(a)];
  });
  // Pan, then tilt: the camera's own right, down and forward.
  const right = [cp, 0, -sp];
  const down = [st * sp, ct, st * cp];
  const forward = [ct * sp, -st, ct * cp];
  return [...right.map((v, i) => cr * v + sr * down[i]), ...down.map((v, i) => cr * v - sr * right[i]), ...forward];
}
