import { turnOf, type Pose } from './pose';
import { CENTRE, type EyePlace } from './rig';
import { inverseDistance, type SourceCamera } from './sourceCamera';
import type { Place, Point } from '../raster/geometry';

/**
 * Where pixels of the source land: a pixel q = (x, y, 1) with inverse distance w at p ~ M q - w e. Pixel centres are whole
 * numbers on both sides. The third part of p is the distance along the camera's axis over what it was from the source.
 */
export interface Projection {
  /** 3 x 3, row by row. */
  readonly matrix: readonly number[];
  readonly epipole: Vector3;
}

type Vector3 = readonly [number, number, number];

/**
 * How a camera sees the scene. Plates lie on their source rays, so at rest nothing depends on depth.
 * Source: the pinhole camera, Hartley and Zisserman, "Multiple view geometry in computer vision", 2004, ch. 6.
 *
 * @param window where what is seen lies within the source's frame, and at which scale @default all at source size
 */
export function projectionOf(
  { focalPx, principalPoint: c }: SourceCamera,
  pose: Pose,
  eye: EyePlace = CENTRE,
  window: Place = { left: 0, top: 0, scale: 1 },
): Projection {
  const turn = turnOf(pose);
  const focal = focalPx * pose.zoom;
  const [right, up, forward] = pose.position;
  const camera: Vector3 = [right, -up, forward];
  const turned = [0, 3, 6].map((r) => turn[r] * camera[0] + turn[r + 1] * camera[1] + turn[r + 2] * camera[2]);
  turned[0] += eye.offset;
  // Turned, times the inverse of the source camera's own matrix: a pixel's ray in the camera's axes.
  const rays = [0, 3, 6].flatMap((r) => {
    const [a, b] = [turn[r] / focalPx, turn[r + 1] / focalPx];
    return [a, b, turn[r + 2] - a * c.x - b * c.y];
  });
  // The new camera's matrix, with shifted sensor, and then the window.
  const across = windowed(c.x + eye.shiftPx, window.left, window.scale);
  const down = windowed(c.y, window.top, window.scale);
  const scaled = focal * window.scale;
  const seen = (v: readonly number[]): Vector3 => [scaled * v[0] + across * v[2], scaled * v[1] + down * v[2], v[2]];
  const columns = [0, 1, 2].map((n) => seen([rays[n], rays[n + 3], rays[n + 6]]));
  return {
    matrix: [0, 1, 2].flatMap((r) => columns.map((column) => column[r])),
    epipole: seen(turned),
  };
}

/** A place of the source in a window of it; pixel centres are whole numbers in both. */
const windowed = (x: number, from: number, scale: number): number => (x + 0.5 - from) * scale - 0.5;

/** A projection of another raster of the source than the whole at its own size: one that lies at a place, at a scale. */
export function fromRaster({ matrix, epipole }: Projection, { left, top, scale }: Place): Projection {
  // Source px of raster px (x, y): ((x + 0.5) / scale + left - 0.5, ...).
  const dx = 0.5 / scale + left - 0.5;
  const dy = 0.5 / scale + top - 0.5;
  return {
    matrix: [0, 3, 6].flatMap((r) => [
      matrix[r] / scale,
      matrix[r + 1] / scale,
      matrix[r] * dx + matrix[r + 1] * dy + matrix[r + 2],
    ]),
    epipole,
  };
}

/** Where a source px of some inverse distance lands, and its inverse distance from there; undefined behind the camera. */
export function projectPoint(
  { matrix: m, epipole: e }: Projection,
  { x, y }: Point,
  w: number,
): (Point & { readonly inverse: number }) | undefined {
  const z = m[6] * x + m[7] * y + m[8] - w * e[2];
  if (z <= 0) return undefined;
  return {
    x: (m[0] * x + m[1] * y + m[2] - w * e[0]) / z,
    y: (m[3] * x + m[4] * y + m[5] - w * e[1]) / z,
    inverse: w / z,
  };
}

/** The most that one unit of depth on the ruler moves anything of a picture, px of what is seen. */
export function parallaxReach(
  projection: Projection,
  camera: SourceCamera,
  { width, height }: { readonly width: number; readonly height: number },
): number {
  let most = 0;
  for (const [x, y] of [
    [0, 0],
    [width - 1, 0],
    [0, height - 1],
    [width - 1, height - 1],
  ]) {
    const near = projectPoint(projection, { x, y }, inverseDistance(1, camera));
    const far = projectPoint(projection, { x, y }, inverseDistance(0, camera));
    if (near && far) most = Math.max(most, Math.hypot(near.x - far.x, near.y - far.y));
    else return Infinity;
  }
  return most;
}
