import { placeIn, placeInKey, type LayerPose } from './layerPose';
import type { Template } from './template';

/** Where a key's cut-out was found in another frame. */
export interface PlacedLayer {
  /** The key's frame. */
  readonly key: number;
  readonly pose: LayerPose;
  /** The cut-out's middle in its key, px; middles of pixels are whole numbers. */
  readonly x: number;
  readonly y: number;
  /** How near the key lies in time, 1 and more; of two keys each counts by it. */
  readonly near: number;
  /** Its colours agree there. */
  readonly sure: boolean;
}

export const placedLayer = (
  { x, y }: Template,
  { key, pose, near, sure }: Pick<PlacedLayer, 'key' | 'pose' | 'near' | 'sure'>,
): PlacedLayer => ({ key, pose, x, y, near, sure });

/** Where a place of the key has gone to; middles of pixels are whole numbers. Written into `out`. */
export function goneTo({ pose, x, y }: PlacedLayer, u: number, v: number, out: Float64Array): void {
  placeIn(pose, u - x, v - y, out);
  out[0] += x;
  out[1] += y;
}

/** Where in the key a place of the frame comes from. */
export function cameFrom({ pose, x, y }: PlacedLayer, u: number, v: number, out: Float64Array): void {
  placeInKey(pose, u - x, v - y, out);
  out[0] += x;
  out[1] += y;
}
