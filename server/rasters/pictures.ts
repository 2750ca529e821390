import sharp from 'sharp';
import type { Rect } from '@/core/raster/geometry';
import type { EntityManager } from '@mikro-orm/postgresql';
import { narrowed, widened } from '@/core/raster/bits';
import { isCarriedName } from '@/core/shot/carriedNames';
import { readReducedColours } from './pyramid';
import { loadRevision, readWindow, replaceRect, storeFlat, storeMap, type Revision } from './revisions';
import { TILE } from './tiles';
import { pictureOf, sixteenBits, toEightBits, type Picture16, type Straight } from '@/core/raster/picture';

// A picture of its own (what was filled in) lies in the same tiles as maps do: RGBA of 16 bits side by side, so that
// its revision is
// four times as wide as the picture. Empty tiles are stored once.

/** Stores a picture, RGBA straight alpha; 8 bits are widened. */
export async function storePicture(em: EntityManager, { width, height, data }: Straight): Promise<Revision> {
  const wide = sixteenBits(data) ? data : widened(data);
  return storeMap(em, { width: width * 4, height, data: wide });
}

/**
 * Stores a picture of which only a rectangle differs from a stored one (null: from an empty one): the tiles under it,
 * no others. What was carried to a frame so far is stored whole.
 */
export async function storeChanged(
  em: EntityManager,
  was: string | null,
  { width, height, data }: Straight,
  { left, top, right, bottom }: Rect,
): Promise<Revision> {
  if (isCarriedName(was)) return storePicture(em, { width, height, data } as Straight);
  const base = was === null ? await storeFlat(em, { width: width * 4, height }, 0) : await loadRevision(em, was);
  const wide = sixteenBits(data) ? data : widenedRows(data, width, top, bottom);
  return replaceRect(
    em,
    base,
    { width: width * 4, height, data: wide },
    { left: left * 4, top, right: right * 4, bottom },
  );
}

/** 8 bits widened in the rows that are needed, to whole tiles; the others stay empty. */
function widenedRows(data: Uint8Array | Uint8ClampedArray, width: number, top: number, bottom: number): Uint16Array {
  const out = new Uint16Array(data.length);
  const first = Math.floor(top / TILE) * TILE * width * 4;
  const end = Math.min(data.length, Math.ceil(bottom / TILE) * TILE * width * 4);
  for (let i = first; i < end; i++) out[i] = data[i] * 257;
  return out;
}

/** A rectangle of a stored picture, with 16 bits. */
export async function readPictureWindow(
  em: EntityManager,
  revision: Revision,
  { left, top, right, bottom }: Rect,
): Promise<Picture16<'straight'>> {
  const { data } = await readWindow(em, revision, { left: left * 4, top, right: right * 4, bottom });
  return pictureOf({ width: right - left, height: bottom - top }, data, 'straight');
}

/** A whole stored picture with as many bits as asked for. */
export async function readStoredPicture(em: EntityManager, id: string, bits: 8 | 16): Promise<Straight> {
  const revision = await loadRevision(em, id);
  const picture = await readPictureWindow(em, revision, {
    left: 0,
    top: 0,
    right: revision.width / 4,
    bottom: revision.height,
  });
  return bits === 16 ? picture : toEightBits(picture);
}

/** A rectangle of a stored picture, reduced to width x height, as an 8-bit PNG with straight alpha. */
export async function paintedWindow(
  em: EntityManager,
  revision: Revision,
  window: Rect & { readonly width: number; readonly height: number },
): Promise<Buffer> {
  const { width, height, data } = await readReducedColours(em, revision, window);
  return sharp(narrowed(data), { raw: { width, height, channels: 4 } })
    .resize(window.width, window.height, { fit: 'fill', kernel: 'cubic' })
    .png({ compressionLevel: 1 })
    .toBuffer();
}
