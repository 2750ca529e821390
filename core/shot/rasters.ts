import type { ColumnRange } from '../raster/geometry';
import type { DepthMap, Mask, Premultiplied, Straight } from '../raster/picture';

/** A plate's pixels: whole rows of the picture from `top` on, premultiplied by its matte. */
export interface PlateRaster<P extends Premultiplied> {
  readonly id: string;
  readonly top: number;
  /** The columns that hold anything. */
  readonly columns: ColumnRange;
  readonly picture: P;
  readonly depth: DepthMap;
  /** 255 where it goes on behind nearer plates; of the same rows. */
  readonly hidden?: Mask;
}

/** What a shot is rendered from: the back plate without the plates that were lifted from it, and those. */
export interface ShotRasters<P extends Premultiplied> {
  readonly picture: P;
  readonly depth: DepthMap;
  /** Where nearer plates hide the back plate in the source, pushed out, 255; undefined where it is whole. */
  readonly hole?: Mask;
  readonly plates: readonly PlateRaster<P>[];
}

/** What hands and machine have put on a plate, straight alpha, 0 where nothing was. */
export interface Painted {
  /** Where nearer plates hide it. */
  readonly fill?: Straight;
  /** Over its own pixels: that is asked first. */
  readonly overpaint?: Straight;
}

/** A plate before it is laid out: coverage and depth over the whole picture, and its own colours where it was brought in. */
export interface CutPlate extends Painted {
  readonly id: string;
  readonly matte: Mask;
  readonly depth: DepthMap;
  readonly picture?: Straight;
}
