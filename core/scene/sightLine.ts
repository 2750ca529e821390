import type { Point } from '../raster/geometry';
import type { PlanAxis } from './plan';
import type { Vector } from '../camera/pose';
import type { Projection } from '../camera/projection';
import { inverseDistance, type SourceCamera } from '../camera/sourceCamera';

/**
 * Where a line of sight of a moved camera runs in the plan, whose places across are px of the source and whose places along
 * are inverse distances: a straight line.
 */
export interface SightLine {
  /** Px of the source at inverse distance 0. */
  readonly from: number;
  /** Px of the source a unit of inverse distance. */
  readonly per: number;
}

/**
 * The line of sight through a place of what a camera sees, in the plan through the source's middle.
 * @param seenAt px of what is seen, across
 */
export function sightLine(
  { matrix: m, epipole: e }: Projection,
  { principalPoint: c }: SourceCamera,
  axis: PlanAxis,
  seenAt: number,
): SightLine {
  // p = M q - w e lands at seenAt where p[across] = seenAt p[2]: linear in the source's place and in w.
  const row = axis === 'columns' ? 0 : 3;
  const part = (n: number): number => m[row + n] - seenAt * m[6 + n];
  const [own, other, at] = axis === 'columns' ? [part(0), part(1), c.y] : [part(1), part(0), c.x];
  return {
    from: -(other * at + part(2)) / own,
    per: (e[axis === 'columns' ? 0 : 1] - seenAt * e[2]) / own,
  };
}

/** A place of the scene in the plan: px of the source across, and its depth on the ruler, 1 nearest to 0 farthest. */
export function inPlan([right, up, forward]: Vector, camera: SourceCamera, axis: PlanAxis): Point {
  const { focalPx, principalPoint: c, near, far } = camera;
  const x = axis === 'columns' ? c.x + (focalPx * right) / forward : c.y - (focalPx * up) / forward;
  return { x, y: (1 / forward - 1 / far) / (1 / near - 1 / far) };
}

/** The place of the scene at a place of the plan; what the plan does not show of it stays. */
export function fromPlan(at: Point, was: Vector, camera: SourceCamera, axis: PlanAxis): Vector {
  const { focalPx, principalPoint: c } = camera;
  // Nothing lies without end: as far as the ruler tells apart.
  const forward = 1 / Math.max(1e-6, inverseDistance(at.y, camera));
  const other = (v: number): number => (v / was[2]) * forward;
  return axis === 'columns'
    ? [((at.x - c.x) / focalPx) * forward, other(was[1]), forward]
    : [other(was[0]), ((c.y - at.x) / focalPx) * forward, forward];
}
