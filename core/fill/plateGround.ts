import type { ShotRasters } from '../shot/rasters';
import { emptyPicture, isDeep, type Mask, type Premultiplied } from '../raster/picture';

/**
 * A plate (null: the back plate) over the whole canvas: its picture with what lies behind nearer plates, where that
 * is, and what is surely its own.
 */
export interface PlateGround<P extends Premultiplied> {
  readonly picture: P;
  readonly hidden: Mask;
  readonly own: Mask;
}

/** @returns undefined where the plate is not laid out */
export function plateGround<P extends Premultiplied>(
  rasters: ShotRasters<P>,
  id: string | null,
): PlateGround<P> | undefined {
  const { width, height } = rasters.picture;
  const n = width * height;
  const empty = (): Mask => ({ width, height, data: new Uint8Array(n) });
  if (id === null) {
    const hidden = rasters.hole ?? empty();
    return { picture: rasters.picture, hidden, own: { width, height, data: hidden.data.map((v) => (v ? 0 : 255)) } };
  }
  const raster = rasters.plates.find((p) => p.id === id);
  if (!raster) return undefined;
  const most = isDeep(rasters.picture) ? 65535 : 255;
  const picture = emptyPicture(rasters.picture, width, height);
  const hidden = empty();
  const itsPixels = empty();
  const from = raster.top * width;
  picture.data.set(raster.picture.data, from * 4);
  if (raster.hidden) hidden.data.set(raster.hidden.data, from);
  for (let i = 0; i < raster.depth.data.length; i++)
    if (raster.picture.data[i * 4 + 3] === most && !hidden.data[from + i]) itsPixels.data[from + i] = 255;
  return { picture, hidden, own: itsPixels };
}
