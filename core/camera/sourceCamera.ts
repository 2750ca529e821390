import type { Size } from '../kind';
import type { Point } from '../raster/geometry';

/** The camera that took the source, and how deep the scene before it is. */
export interface SourceCamera {
  /** Focal length, px of the source. */
  readonly focalPx: number;
  /** Where its line of sight meets the source, px; pixel centres are whole numbers. */
  readonly principalPoint: Point;
  /** Distance of depth 1, in the scene's unit. */
  readonly near: number;
  /** Distance of depth 0; infinite where it lies infinitely far. */
  readonly far: number;
}

/** The field of view across where nothing says another, degrees. */
export const USUAL_FIELD = 50;

/** Focal length of a field of view across, px. */
export const focalOfField = (degrees: number, width: number): number => width / 2 / Math.tan((degrees * Math.PI) / 360);

/** Field of view across of a focal length, degrees. */
export const fieldOfFocal = (focalPx: number, width: number): number =>
  (360 / Math.PI) * Math.atan(width / 2 / focalPx);

/** Focal length in mm of a frame 36 mm across, px. */
export const focalOfMm = (mm: number, width: number): number => (mm / 36) * width;

/** Focal length in mm of a frame 36 mm across. */
export const mmOfFocal = (focalPx: number, width: number): number => (focalPx / width) * 36;

/** The middle of a picture; pixel centres are whole numbers. */
export const middleOf = ({ width, height }: Size): Point => ({ x: (width - 1) / 2, y: (height - 1) / 2 });

/** Inverse distance of a depth on the ruler. @param depth 1 nearest to 0 farthest */
export const inverseDistance = (depth: number, { near, far }: Pick<SourceCamera, 'near' | 'far'>): number =>
  depth / near + (1 - depth) / far;
