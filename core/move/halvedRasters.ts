import { halveDepth } from '../raster/halveDepth';
import { halvePicture } from '../raster/halve';
import { emptyPicture, type DepthMap, type Premultiplied } from '../raster/picture';
import type { PlateRaster, ShotRasters } from '../shot/rasters';

/** How often rasters are best halved for frames at a scale, px a px of theirs: what is much smaller would flicker. */
export const halvingsForScale = (scale: number): number => Math.max(0, Math.round(Math.log2(1 / scale)));

/** A shot's rasters at half their size, so often. Only what a camera needs of them is kept. */
export function halvedRasters<P extends Premultiplied>(rasters: ShotRasters<P>, times: number): ShotRasters<P> {
  let halved = rasters;
  for (let n = 0; n < times; n++)
    halved = {
      picture: halvePicture(halved.picture),
      depth: halveDepth(halved.depth),
      plates: halved.plates.map((plate) => halvedPlate(plate, halved.picture.height)),
    };
  return halved;
}

/** Rows of a plate at half their size: from an even row of the picture to another, or to its last. */
function halvedPlate<P extends Premultiplied>(
  { id, top, columns, picture, depth }: PlateRaster<P>,
  pictureHeight: number,
): PlateRaster<P> {
  const above = top % 2;
  const below = (top + picture.height) % 2 === 1 && top + picture.height < pictureHeight ? 1 : 0;
  const { width } = picture;
  const height = above + picture.height + below;
  const roomy = emptyPicture(picture, width, height);
  roomy.data.set(picture.data, above * width * 4);
  const map: DepthMap = { width, height, data: new Uint16Array(width * height) };
  map.data.set(depth.data, above * width);
  // Beyond the plate its depth goes on.
  if (above) map.data.copyWithin(0, width, 2 * width);
  if (below) map.data.copyWithin((height - 1) * width, (height - 2) * width, (height - 1) * width);
  return {
    id,
    top: (top - above) / 2,
    columns: { left: columns.left >> 1, right: (columns.right + 1) >> 1 },
    picture: halvePicture(roomy),
    depth: halveDepth(map),
  };
}
