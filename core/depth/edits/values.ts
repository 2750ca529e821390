import { z } from 'zod';
import type { Point } from '../../raster/geometry';

/** A depth, 0 farthest to 1 nearest. */
export const depthValue = z.number().min(0).max(1);
/** A coordinate, full-size px. */
export const place = z.number().min(-1e6).max(1e6);

/** A place on a canvas that has grown. */
export function moved<P extends Point>(point: P, dx: number, dy: number): P {
  return { ...point, x: point.x + dx, y: point.y + dy };
}
