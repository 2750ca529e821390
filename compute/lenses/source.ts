import type { Rect } from '@/core/raster/geometry';
import { copyRect } from '../draw/copyRect';
import { drawDepth, drawDepthOverPicture } from '../draw/depth';
import { setBack } from '../draw/setBack';
import type { Layer } from '../layer/layer';
import type { DepthOver, FlatWay } from '../look';
import { flat, roomFor, type Asked, type Lens } from './lens';

/** The source itself, its depth, or both over each other; what is not of the plate in work is set back. */
export interface SourceAsk extends DepthOver {
  readonly lens: 'source';
  readonly way: FlatWay;
  /** The plate in work; null: the back plate, with nothing set back. */
  readonly active: string | null;
}

/** Draws the source as a flat way shows it, into a rectangle's room. */
export function drawSource(
  layer: Layer,
  { scene, ask }: Asked<DepthOver & { readonly way: FlatWay }>,
  rect: Rect,
  out: Uint8ClampedArray,
): void {
  layer.follow(scene);
  if (ask.way === 'picture') copyRect(layer.backdrop.flat(layer.layout.cutPlates(scene), scene), rect, out);
  else if (ask.way === 'depth') drawDepth(layer.absoluteMap(scene), rect, out);
  else
    drawDepthOverPicture(
      { picture: layer.picture, depth: layer.absoluteMap(scene), budget: scene.budget },
      ask,
      rect,
      out,
    );
}

export const source: Lens<SourceAsk> = {
  key: 'source',
  touches: true,
  draw(layer, asked, rect = layer.whole) {
    const { ask } = asked;
    const data = roomFor(rect);
    drawSource(layer, asked, rect, data);
    const plate = layer.plates.find((p) => p.id === ask.active);
    if (plate) setBack(plate.matte, rect, data, ask.way === 'depth-over-picture');
    return flat(layer, rect, data);
  },
};
