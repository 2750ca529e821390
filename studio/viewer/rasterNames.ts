import type { PlateNames, RasterNames } from '@/compute/look';
import type { Plate, ShotDocument } from '@/core/shot/document';
import type { WorkLook } from '@/server/shots/longWork';

/** Which rasters a document is made of. */
export function rasterNames({ source, depth, fill, overpaint, plates }: ShotDocument): RasterNames {
  return {
    media: source.mediaId,
    ...(source.moment === undefined ? {} : { moment: source.moment }),
    depth: depth.revision,
    behind: depth.behind,
    fill,
    overpaint,
    plates: plates.flatMap(plateNames),
  };
}

/** The same with what can be seen already of a fill that is being made. */
export function namesWithLook(document: ShotDocument, look: WorkLook | null): RasterNames {
  const names = rasterNames(document);
  if (!look) return names;
  const { plate, revision: fill } = look;
  if (plate === null) return { ...names, fill };
  return { ...names, plates: names.plates.map((p) => (p.id === plate ? { ...p, fill } : p)) };
}

function plateNames({ id, matte, depth, fill, overpaint, piece }: Plate): PlateNames[] {
  if (matte === null || depth.revision === null) return [];
  const named = piece && { mediaId: piece.mediaId, width: piece.width, height: piece.height };
  return [{ id, fill, overpaint, matte, depth: depth.revision, piece: named }];
}

/** True where the only difference is one depth that has become `revision`: the page has painted it itself. */
export function differsOnlyBy(revision: string, next: RasterNames, known: RasterNames): boolean {
  const depths = (names: RasterNames): (string | null)[] => [
    names.depth,
    names.behind,
    ...names.plates.map((p) => p.depth),
  ];
  const rest = (names: RasterNames): string =>
    JSON.stringify([
      names.media,
      names.moment,
      names.fill,
      names.overpaint,
      names.plates.map((p) => [p.id, p.matte, p.fill, p.overpaint, p.piece]),
    ]);
  if (rest(next) !== rest(known)) return false;
  const before = depths(known);
  const changed = depths(next).filter((name, n) => name !== before[n]);
  return changed.length === 1 && changed[0] === revision;
}
