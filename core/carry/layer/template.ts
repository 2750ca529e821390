import { halfOf, type Plane } from '../../flow/plane';
import { boundsOf } from '../../raster/bounds';
import type { Rect } from '../../raster/geometry';
import type { Mask, Picture8 } from '../../raster/picture';
import { colourLevels } from './colourLevels';

/** What a cut-out looks like in its key, at one size. */
export interface TemplateLevel {
  /** Px of the whole picture to one of this size. */
  readonly factor: number;
  /** Its places, px of the whole picture from the layer's middle. */
  readonly x: Float32Array;
  readonly y: Float32Array;
  /** Red, green and blue, one after another. */
  readonly colours: Float32Array;
}

/** A cut-out as it looks in its key frame: what is looked for in other frames. */
export interface Template {
  readonly picture: Picture8;
  readonly matte: Mask;
  /** The part of the picture that the matte touches. */
  readonly rect: Rect;
  /** Its middle, px; middles of pixels are whole numbers. */
  readonly x: number;
  readonly y: number;
  /** Half of its longer side, px. */
  readonly reach: number;
  /** The finest first. */
  readonly levels: readonly TemplateLevel[];
}

/** From so much on a pixel belongs to the cut-out, of 255. */
export const IN = 128;
/** At its own size, at half and at a quarter. */
export const LEVELS = 3;
/** So many places of a level are looked at; more tell nothing more. */
const PLACES = 8000;
/** A level needs so many, or its fit is chance. */
const FEWEST = 40;
const ROOM = 8;

/** Undefined where a key's matte holds nothing. */
export function templateOf(picture: Picture8, matte: Mask): Template | undefined {
  const { width, height } = matte;
  const rect = boundsOf(width, height, (i) => matte.data[i] >= IN, ROOM);
  if (!rect) return undefined;
  const x = (rect.left + rect.right - 1) / 2;
  const y = (rect.top + rect.bottom - 1) / 2;
  const reach = Math.max(rect.right - rect.left, rect.bottom - rect.top) / 2;
  const colours = colourLevels(picture, rect, LEVELS);
  let inside = coverage(matte, rect);
  const levels: TemplateLevel[] = [];
  for (const { planes, factor } of colours) {
    const places = placesOf(inside);
    if (levels.length > 0 && places.length < FEWEST) break;
    const level = {
      factor,
      x: new Float32Array(places.length),
      y: new Float32Array(places.length),
      colours: new Float32Array(3 * places.length),
    };
    places.forEach((at, n) => {
      level.x[n] = rect.left + (at % inside.width) * factor + (factor - 1) / 2 - x;
      level.y[n] = rect.top + Math.floor(at / inside.width) * factor + (factor - 1) / 2 - y;
      planes.forEach(({ data }, channel) => {
        level.colours[3 * n + channel] = data[at];
      });
    });
    levels.push(level);
    inside = halfOf(inside);
  }
  return { picture, matte, rect, x, y, reach, levels };
}

function coverage({ width, data }: Mask, rect: Rect): Plane {
  const size = { width: rect.right - rect.left, height: rect.bottom - rect.top };
  const plane = new Float32Array(size.width * size.height);
  for (let y = 0, o = 0; y < size.height; y++)
    for (let x = 0; x < size.width; x++, o++) plane[o] = data[(rect.top + y) * width + rect.left + x];
  return { ...size, data: plane };
}

/** The pixels of the cut-out and those beside it, whose contrast tells of its outline; of many, every so many-th. */
function placesOf({ width, height, data }: Plane): number[] {
  const places: number[] = [];
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x;
      if (Math.max(data[i], data[i - 1], data[i + 1], data[i - width], data[i + width]) >= IN) places.push(i);
    }
  const each = Math.ceil(places.length / PLACES);
  return each === 1 ? places : places.filter((_, n) => n % each === 0);
}
