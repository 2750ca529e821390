/**
 * A plane of the scene as inverse distance is seen to change over the picture: linear in x and y, whatever the camera.
 * Depth here is inverse distance up to a factor, 0 infinitely far.
 */
export interface Plane {
  /** Change a px to the right. */
  readonly x: number;
  /** Change a px down. */
  readonly y: number;
  /** At the middle of the first px. */
  readonly at0: number;
}

/** Depth of a plane at a place, px. */
export const depthAt = (plane: Plane, x: number, y: number): number => plane.at0 + plane.x * x + plane.y * y;

/** A depth map with a hole in it. */
export interface HoledDepth {
  readonly width: number;
  readonly height: number;
  /** 0 infinitely far to 1. */
  readonly depth: Float32Array;
  /** 1 where it is known. */
  readonly known: Uint8Array;
  /** 1 where it is asked for; neither 1: it has no part. */
  readonly hole: Uint8Array;
}
