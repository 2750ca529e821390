import type { DepthMap, Premultiplied8, Straight } from '../../raster/picture';
import { pictureOf } from '../../raster/picture';
import type { PlateRaster, ShotRasters } from '../../shot/rasters';

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
  const { width, height } = rasters.picture;
  const all = { rasters: { top: 0, width, height, depth: rasters.depth }, factor };
  const backFill = fills.get(null);
  const back = reduced(all, (i) => [rasters.hole?.data[i] && !covers(backFill, i) ? 255 : 0, 255], 1);
  return {
    ...back,
    plates: rasters.plates.map((plate, n): PlateRaster<Premultiplied8> => {
      const fill = fills.get(plate.id);
      const first = plate.top * width;
      const { picture, depth, top } = reduced(
        { rasters: { top: plate.top, width, height: plate.depth.height, depth: plate.depth }, factor },
        (i) => [plate.hidden?.data[i] && !covers(fill, first + i) ? 255 : 0, plate.picture.data[i * 4 + 3]],
        n + 2,
      );
      return { id: plate.id, top, columns: { left: 0, right: picture.width }, picture, depth };
    }),
  };
}

const covers = (fill: Straight | undefined, i: number): boolean => fill !== undefined && fill.data[i * 4 + 3] > 0;

/** Rows of a map and of what is open in it, every so many-th pixel of them. @param mark open, 0 or 255, and coverage of a pixel */
function reduced(
  {
    rasters: { top, width, height, depth },
    factor,
  }: {
    readonly rasters: {
      readonly top: number;
      readonly width: number;
      readonly height: number;
      readonly depth: DepthMap;
    };
    readonly factor: number;
  },
  mark: (i: number) => readonly [open: number, cover: number],
  number: number,
): { picture: Premultiplied8; depth: DepthMap; top: number } {
  // The middle one of each so many: small pixel k lies at factor k + middle.
  const middle = (factor - 1) >> 1;
  const across = Math.max(1, Math.floor((width - 1 - middle) / factor) + 1);
  const first = Math.max(0, Math.ceil((top - middle) / factor));
  const last = Math.floor((top + height - 1 - middle) / factor);
  const down = Math.max(1, last - first + 1);
  const size = { width: across, height: down };
  const data = new Uint8Array(across * down * 4);
  const map = new Uint16Array(across * down);
  for (let y = 0, to = 0; y < down; y++) {
    const row = Math.min(height - 1, Math.max(0, (first + y) * factor + middle - top));
    for (let x = 0; x < across; x++, to++) {
      const i = row * width + Math.min(width - 1, x * factor + middle);
      const [open, cover] = mark(i);
      map[to] = depth.data[i];
      data[to * 4] = Math.round((open * cover) / 255);
      data[to * 4 + 1] = Math.round((number * PLATE_STEP * cover) / 255);
      data[to * 4 + 3] = cover;
    }
  }
  return { picture: pictureOf(size, data, 'premultiplied'), depth: { ...size, data: map }, top: first };
}
