import { pictureOf, type Premultiplied8, type Straight } from '../../raster/picture';
import type { PlateRaster, ShotRasters } from '../../shot/rasters';
import { coarseRows, type CoarseRows, type Rows } from '../coarse';

/** Red: nobody has filled this. Green: whose pixel it is, so many steps a plate. */
export const PLATE_STEP = 6;

/**
 * A shot as its guard sees it: small, and painted not with its colours but with what is open. What is rendered of it says
 * which open pixels a camera sees, and whose.
 *
 * @param fills what was filled in behind each plate; null: the back plate
 * @param factor every so many-th pixel is taken
 */
export function guardRasters(
  rasters: ShotRasters<Premultiplied8>,
  fills: ReadonlyMap<string | null, Straight | undefined>,
  factor: number,
): ShotRasters<Premultiplied8> {
  const { width } = rasters.picture;
  const backFill = fills.get(null);
  const back = reduced(
    { top: 0, depth: rasters.depth },
    factor,
    (i) => [rasters.hole?.data[i] && !covers(backFill, i) ? 255 : 0, 255],
    1,
  );
  return {
    ...back,
    plates: rasters.plates.map((plate, n): PlateRaster<Premultiplied8> => {
      const fill = fills.get(plate.id);
      const first = plate.top * width;
      const { picture, depth, top } = reduced(
        plate,
        factor,
        (i) => [plate.hidden?.data[i] && !covers(fill, first + i) ? 255 : 0, plate.picture.data[i * 4 + 3]],
        n + 2,
      );
      return { id: plate.id, top, columns: { left: 0, right: picture.width }, picture, depth };
    }),
  };
}

const covers = (fill: Straight | undefined, i: number): boolean => fill !== undefined && fill.data[i * 4 + 3] > 0;

/** Rows and what is open in them. @param mark open, 0 or 255, and coverage of a pixel */
function reduced(
  rows: Rows,
  factor: number,
  mark: (i: number) => readonly [open: number, cover: number],
  number: number,
): CoarseRows & { readonly picture: Premultiplied8 } {
  const coarse = coarseRows(rows, factor);
  const colours = new Uint8Array(coarse.from.length * 4);
  coarse.from.forEach((pixel, n) => {
    const [open, cover] = mark(pixel);
    colours[n * 4] = Math.round((open * cover) / 255);
    colours[n * 4 + 1] = Math.round((number * PLATE_STEP * cover) / 255);
    colours[n * 4 + 3] = cover;
  });
  return { ...coarse, picture: pictureOf(coarse.depth, colours, 'premultiplied') };
}
