/**
 * Where a cut-out lies in a frame beside where it lay in its key: shifted, px, turned and grown about its own middle.
 * A place `(x, y)` from the middle goes to `((1 + grow) x - turn y + dx, turn x + (1 + grow) y + dy)`.
 */
export interface LayerPose {
  readonly dx: number;
  readonly dy: number;
  /** 0: as large as in the key. */
  readonly grow: number;
  /** Sine of the turn, roughly, times the growth. */
  readonly turn: number;
}

export const AT_KEY: LayerPose = { dx: 0, dy: 0, grow: 0, turn: 0 };

/**
 * Where it will lie if it goes on as it went from `before` to `now`; size and turn stay, whose small steps are mostly
 * noise.
 */
export const goesOn = (before: LayerPose, now: LayerPose): LayerPose => ({
  ...now,
  dx: 2 * now.dx - before.dx,
  dy: 2 * now.dy - before.dy,
});

/** Where a place of the key, from the layer's middle, has gone to; written into `out`. */
export function placeIn(pose: LayerPose, x: number, y: number, out: Float64Array): void {
  out[0] = (1 + pose.grow) * x - pose.turn * y + pose.dx;
  out[1] = pose.turn * x + (1 + pose.grow) * y + pose.dy;
}

/** The other way round: where in the key a place of the frame comes from. */
export function placeInKey(pose: LayerPose, u: number, v: number, out: Float64Array): void {
  const [g, r] = [1 + pose.grow, pose.turn];
  const share = 1 / (g * g + r * r);
  const [x, y] = [u - pose.dx, v - pose.dy];
  out[0] = share * (g * x + r * y);
  out[1] = share * (g * y - r * x);
}
