import { toEightBits, type DepthMap, type Premultiplied, type Straight } from '@/core/raster/picture';
import { rgbToYcbcr, type Colours } from '@/core/raster/ycbcr';
import { premultiply } from '@/core/raster/alpha';
import { farToNear, type Plate, type ShotDocument } from '@/core/shot/document';
import { layOutPlates, type BackPlate } from '@/core/shot/layOut';
import type { CutPlate, Painted, ShotRasters } from '@/core/shot/rasters';
import { database } from '../db/orm';
import { Problem } from '../http/problem';
import { readRaster, sourceRaster } from '../media/decode';
import type { PlatesOfShot } from '../media/writePlates';
import { depthMap, filledPicture, matteMap } from './carriedRasters';
import { loadChoice } from './choices';
import { placedPiece } from './pieces';
import { plateOf } from './plateList';

/** The source at full size, straight alpha, as it came. */
export async function sourcePicture({ source }: Pick<ShotDocument, 'source'>): Promise<Straight> {
  return readRaster(await sourceRaster(source), source.bits);
}

/** The source at full size as plates are laid out in it. */
export async function groundPicture(document: Pick<ShotDocument, 'source'>): Promise<Premultiplied> {
  return premultiply(await sourcePicture(document), document.source.hasAlpha);
}

/**
 * A shot's stored maps at full size: the back plate's depth; and matte, depth and (where they are its own) colours of
 * every plate that is cut, far to near; and what was filled in behind them.
 */
export async function storedPlates(
  document: ShotDocument,
): Promise<{ depth: DepthMap; plates: CutPlate[]; back: BackPlate }> {
  const plates: CutPlate[] = [];
  for (const plate of farToNear(document.plates)) {
    const pixels = await storedPlate(document, plate);
    if (pixels) plates.push(pixels);
  }
  const { behind } = document.depth;
  return {
    depth: await depthMap(document.depth.revision, document.source),
    plates,
    back: {
      ...(await paintedOn(document, document)),
      ...(document.holePx === null ? {} : { push: document.holePx }),
      ...(behind === null ? {} : { behind: await depthMap(behind, document.source) }),
    },
  };
}

/** What was filled in and painted on a plate, or (the document itself) on the back plate. */
async function paintedOn(
  { source }: ShotDocument,
  { fill, overpaint }: Pick<Plate, 'fill' | 'overpaint'>,
): Promise<Painted> {
  return {
    ...(fill === null ? {} : { fill: await filledPicture(fill, source) }),
    ...(overpaint === null ? {} : { overpaint: await filledPicture(overpaint, source) }),
  };
}

/** One plate's pixels at full size; undefined while it is only planned. */
async function storedPlate(document: ShotDocument, plate: Plate): Promise<CutPlate | undefined> {
  if (plate.matte === null || plate.depth.revision === null) return undefined;
  return {
    id: plate.id,
    matte: await matteMap(plate.matte, document.source),
    depth: await depthMap(plate.depth.revision, document.source),
    ...(plate.piece ? { picture: await placedPiece(plate.piece, document.source) } : {}),
    ...(await paintedOn(document, plate)),
  };
}

/** One plate's pixels at full size. @throws Problem `not-cut` for a plate that is only planned */
export async function platePixels(document: ShotDocument, plate: Plate): Promise<CutPlate> {
  const pixels = await storedPlate(document, plate);
  if (!pixels) throw new Problem(422, 'not-cut', `${plate.name} is only planned and has no pixels yet. Cut it first.`);
  return pixels;
}

/** Everything a shot is rendered from, at full size. */
export const shotRasters = async (document: ShotDocument): Promise<ShotRasters<Premultiplied>> =>
  rastersWith(document, await sourcePicture(document));

/** The same with a source that is read already. @param colours what the source holds */
export async function rastersWith(
  document: ShotDocument,
  source: Straight,
  colours: Colours = 'rgb',
): Promise<ShotRasters<Premultiplied>> {
  const { depth, plates, back } = await storedPlates(document);
  const put = <P extends PutOn>(on: P): P => (colours === 'rgb' ? on : inYcbcr(on));
  return layOutPlates(premultiply(source, document.source.hasAlpha), depth, plates.map(put), put(back));
}

/** Pictures that a plate has beside the source. */
type PutOn = Painted & Pick<CutPlate, 'picture'>;

function inYcbcr<P extends PutOn>(on: P): P {
  const turned = (name: keyof PutOn): PutOn => {
    const picture = on[name];
    return picture ? { [name]: rgbToYcbcr(toEightBits(picture)) } : {};
  };
  return { ...on, ...turned('picture'), ...turned('fill'), ...turned('overpaint') };
}

/** A shot whole, as its plates are handed out. */
export async function storedShot(document: ShotDocument, name: string): Promise<PlatesOfShot> {
  const em = await database();
  const choices = new Map<string, Awaited<ReturnType<typeof loadChoice>>>();
  for (const { id, choice } of document.plates) if (choice !== null) choices.set(id, await loadChoice(em, choice));
  return { name, document, source: await sourcePicture(document), choices, ...(await storedPlates(document)) };
}

/** What was filled in behind each plate, and behind the back plate's (null), where anything was. */
export async function shotFills(document: ShotDocument): Promise<Map<string | null, Straight>> {
  const fills = new Map<string | null, Straight>();
  for (const { id, fill } of [{ id: null, fill: document.fill }, ...document.plates])
    if (fill !== null) fills.set(id, await filledPicture(fill, document.source));
  return fills;
}

/** A document with nothing put on its plates. */
export function bareDocument(document: ShotDocument): ShotDocument {
  return {
    ...document,
    fill: null,
    overpaint: null,
    plates: document.plates.map((p) => ({ ...p, fill: null, overpaint: null })),
  };
}

/** Which stored pictures a plate (null: the back plate) is painted with. */
export function paintedOf(document: ShotDocument, id: string | null): Pick<Plate, 'fill' | 'overpaint' | 'strokes'> {
  return id === null ? document : plateOf(document, id);
}
