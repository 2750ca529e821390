import type { Rect } from '../raster/geometry';
import { cleanEdgeColour } from '../matte/edgeColour';
import { premultiply, unpremultiply } from '../raster/alpha';
import { boundsOf } from '../raster/bounds';
import { cropPicture, cropPlane } from '../raster/crop';
import {
  copyPicture,
  isDeep,
  requireSameSize,
  type Mask,
  type Picture,
  type Premultiplied,
  type Straight,
} from '../raster/picture';
import { paintOn } from './paintOn';
import type { CutPlate, PlateRaster } from './rasters';

/**
 * How far a lifted plate's hole is pushed out so that no rim of it stays behind: it depends on the picture's size, at
 * least 2 px.
 */
export function holePush(width: number): number {
  return Math.max(2, Math.round(width / 500));
}

/** A piece of a picture, and where it belongs. */
interface Piece {
  readonly left: number;
  readonly top: number;
  readonly picture: Picture;
}

/** The piece that holds a matte's half-covered pixels in their own colours, worked out once for a matte. */
const cleaned = new WeakMap<Mask, Piece | null>();
/** Pixels around the half-covered ones from which their own colour is learnt. */
const LEARN_AROUND = 12;

function cleanPiece(source: Picture, matte: Mask): Piece | null {
  const known = cleaned.get(matte);
  if (known === null || known?.picture.alpha === source.alpha) return known;
  const soft = boundsOf(source.width, source.height, (i) => matte.data[i] !== 0 && matte.data[i] !== 255, LEARN_AROUND);
  let piece: Piece | null = null;
  if (soft) {
    const alpha = new Float32Array(cropPlane(matte, soft).data);
    for (let i = 0; i < alpha.length; i++) alpha[i] /= 255;
    piece = { left: soft.left, top: soft.top, picture: cleanEdgeColour(cropPicture(source, soft), alpha) };
  }
  cleaned.set(matte, piece);
  return piece;
}

/**
 * Rows of the source with their half-covered pixels in the plate's own colour, so that no colour of the old ground travels along.
 * Everything else, alpha too, stays as it is.
 * @param first the first row @default 0
 * @param end the row after the last @default the picture's height
 */
export function cleanColours<P extends Picture>(source: P, matte: Mask, first = 0, end = source.height): P {
  const { width } = source;
  const data = source.data.slice(first * width * 4, end * width * 4);
  const piece = cleanPiece(source, matte);
  if (piece) {
    const { left, top, picture } = piece;
    for (let y = Math.max(first, top); y < Math.min(end, top + picture.height); y++) {
      for (let x = left; x < left + picture.width; x++) {
        const a = matte.data[y * width + x];
        if (a === 0 || a === 255) continue;
        const from = ((y - top) * picture.width + x - left) * 4;
        const to = ((y - first) * width + x) * 4;
        for (let c = 0; c < 3; c++) data[to + c] = picture.data[from + c];
      }
    }
  }
  return { ...source, height: end - first, data };
}

/** A plate's own colours, those of the edge cleaned, with what was painted on it. */
function ownColours(source: Straight, plate: CutPlate): Straight {
  const colours = cleanColours(source, plate.matte);
  if (!plate.overpaint) return colours;
  const painted = premultiply(colours);
  paintOn(painted, plate);
  return unpremultiply(painted);
}

/**
 * A plate alone on an empty canvas: its own colours (those of the edge cleaned), straight alpha times its matte;
 * nothing where nothing shows.
 */
export function platePicture(source: Straight, plate: CutPlate): Straight {
  const { matte, picture } = plate;
  requireSameSize('A matte', matte, 'the picture', source);
  const most = isDeep(source) ? 65535 : 255;
  const colours = picture ? copyPicture(picture) : ownColours(source, plate);
  for (let i = 0; i < matte.data.length; i++) {
    const before = picture ? most : colours.data[i * 4 + 3];
    colours.data[i * 4 + 3] = Math.round((before * matte.data[i]) / 255);
    if (colours.data[i * 4 + 3] === 0) colours.data.fill(0, i * 4, i * 4 + 3);
  }
  return colours;
}

/** The rectangle that a matte covers, with `room` px around it within the picture; undefined where it covers nothing. */
export function coveredRect({ width, height, data }: Mask, room = 0): Rect | undefined {
  return boundsOf(width, height, (i) => data[i] !== 0, room);
}

/** The rows that a plate covers, its colours (those of the edge cleaned where they come from the source) times its matte. */
export function liftPlate<P extends Premultiplied>(source: P, plate: CutPlate): PlateRaster<P>[] {
  const { id, matte, depth, picture } = plate;
  const { width } = source;
  const rect = coveredRect(matte, 1);
  if (!rect) return [];
  const { top, bottom } = rect;
  const most = isDeep(source) ? 65535 : 255;
  const data = picture
    ? picture.data.slice(top * width * 4, bottom * width * 4)
    : cleanColours(source, matte, top, bottom).data;
  // A piece's own alpha is what its matte was made of: it must not count twice.
  if (picture) for (let i = 3; i < data.length; i += 4) data[i] = most;
  for (let i = 0, m = top * width; i < data.length; i += 4, m++) {
    const a = matte.data[m];
    if (a === 255) continue;
    for (let c = i; c < i + 4; c++) data[c] = Math.round((data[c] * a) / 255);
  }
  const rows = bottom - top;
  return [
    {
      id,
      top,
      columns: rect,
      picture: { ...source, height: rows, data },
      depth: { width, height: rows, data: depth.data.slice(top * width, bottom * width) },
    },
  ];
}
