import { halfOf, type Plane } from '../flow/plane';
import type { Picture8 } from '../raster/picture';
import { greyPlane } from '../raster/greyPlane';

/** A frame as carrying looks at it. */
export interface Frame {
  readonly picture: Picture8;
  /** Grey at half the size: motion is looked for there. */
  readonly half: Plane;
}

export function frameOf(picture: Picture8): Frame {
  const { width, height } = picture;
  return { picture, half: halfOf({ width, height, data: greyPlane(picture) }) };
}
