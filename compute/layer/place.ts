import type { Rect } from '@/core/raster/geometry';
import type { DepthMap, Mask, Straight8 } from '@/core/raster/picture';
import type { PlacedPiece } from './pieces';

/** Room beside a window in detail, in which views may take picture from; never shown. Full-size px. */
export interface LayerPlace {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
  readonly shown: Rect;
  readonly scale: number;
}

/** A plate's coverage and depth at the layer's size. */
export interface LayerPlate {
  readonly id: string;
  readonly matte: Mask;
  readonly depth: DepthMap;
  readonly piece?: PlacedPiece;
  readonly painted?: Painted8;
}

/** What was filled in behind and painted over a plate, at the layer's size. */
export interface Painted8 {
  readonly fill?: Straight8;
  readonly overpaint?: Straight8;
}
