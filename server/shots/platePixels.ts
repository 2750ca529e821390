import type { CutPlate, Painted, ShotRasters } from '@/core/shot/rasters';
import { narrowed } from '@/core/raster/bits';
import type { DepthMap, Mask, Picture } from '@/core/raster/picture';
import { farToNear, type Plate, type ShotDocument } from '@/core/shot/document';
import { layOutPlates, type BackPlate } from '@/core/shot/layOut';
import { database } from '../db/orm';
import { readStoredPicture } from '../rasters/pictures';
import { loadRevision, readMap } from '../rasters/tiles';
import { placedPiece } from './pieces';

/** A stored matte as 8 bits. */
export async function storedMatte(revision: string): Promise<Mask> {
  const em = await database();
  const { width, height, data } = await readMap(em, await loadRevision(em, revision));
  return { width, height, data: narrowed(data) };
}

/** A shot's stored maps at full size: the back plate's depth; and matte, depth and (where they are its own) colours of every plate that is cut, far to near; and what was filled in behind them. */
export async function storedPlates(
  document: ShotDocument,
): Promise<{ depth: DepthMap; plates: CutPlate[]; back: BackPlate }> {
  const em = await database();
  const plates: CutPlate[] = [];
  for (const plate of farToNear(document.plates)) {
    const one = await storedPlate(document, plate);
    if (one) plates.push(one);
  }
  return {
    depth: await readMap(em, await loadRevision(em, document.depth.revision)),
    plates,
    back: {
      ...(await paintedOn(document, document)),
      ...(document.holePx === null ? {} : { push: document.holePx }),
      ...(document.depth.behind === null
        ? {}
        : { behind: await readMap(em, await loadRevision(em, document.depth.behind)) }),
    },
  };
}

/** What was filled in and painted on a plate, or (the document itself) on the back plate. */
async function paintedOn(
  { source }: ShotDocument,
  { fill, overpaint }: Pick<Plate, 'fill' | 'overpaint'>,
): Promise<Painted> {
  const em = await database();
  return {
    ...(fill === null ? {} : { fill: await readStoredPicture(em, fill, source.bits) }),
    ...(overpaint === null ? {} : { overpaint: await readStoredPicture(em, overpaint, source.bits) }),
  };
}

/** One plate's pixels at full size; undefined while it is only planned. */
export async function storedPlate(document: ShotDocument, plate: Plate): Promise<CutPlate | undefined> {
  if (plate.matte === null || plate.depth.revision === null) return undefined;
  const em = await database();
  return {
    id: plate.id,
    matte: await storedMatte(plate.matte),
    depth: await readMap(em, await loadRevision(em, plate.depth.revision)),
    ...(plate.piece ? { picture: await placedPiece(plate.piece, document.source) } : {}),
    ...(await paintedOn(document, plate)),
  };
}

/** Everything a shot is rendered from, at full size. `source` must be premultiplied where it has any transparency. */
export async function shotRasters(document: ShotDocument, source: Picture): Promise<ShotRasters<Picture>> {
  const { depth, plates, back } = await storedPlates(document);
  return layOutPlates(source, depth, plates, back);
}

/** What was filled in behind each plate, and behind the back plate's (null), where anything was. */
export async function shotFills(document: ShotDocument): Promise<Map<string | null, Picture>> {
  const em = await database();
  const fills = new Map<string | null, Picture>();
  for (const { id, fill } of [{ id: null, fill: document.fill }, ...document.plates])
    if (fill !== null) fills.set(id, await readStoredPicture(em, fill, document.source.bits));
  return fills;
}
