import { applyEdit } from '../rasters/edits';
import { isUniform, loadRevision, storeMap } from '../rasters/revisions';
import { editLabel, type DepthEdit } from '@/core/depth/edits';
import type { DepthMap } from '@/core/raster/picture';
import type { ShotDocument } from '@/core/shot/document';
import { database } from '../db/orm';
import { Problem } from '../http/problem';
import type { DepthFile } from '../threads/importDepth';
import { inThread } from '../threads/pool';
import { changeShot, documentOf, type ShotAt, type ShotState } from './history';
import { plateOf, requireUnlocked } from './plateList';

/** Which depth is meant: a plate's, the back plate's (null), or the back plate's where plates hide it. */
export interface DepthTarget {
  /** @default null */
  readonly plate?: string | null;
  /** @default false */
  readonly behind?: boolean;
}

/** True while the back plate has one depth everywhere. */
export async function isFlat({ depth }: ShotDocument): Promise<boolean> {
  return isUniform(await database(), depth.revision);
}

/** Edits a depth. @throws Problem `plate-locked`, `not-cut`, `not-opened`; `missed` */
export function editDepth(
  at: ShotAt,
  edit: DepthEdit,
  { plate = null, behind = false }: DepthTarget = {},
): Promise<ShotState> {
  const label = behind ? `${editLabel(edit)} behind the plates` : editLabel(edit);
  return changeShot(at, label, async (em, document) => {
    const edited = async (revision: string): Promise<string> =>
      (await applyEdit(em, await loadRevision(em, revision), edit)).id;
    return behind ? withBehind(document, edited) : withDepth(document, plate, edited);
  });
}

/** Replaces the whole depth map of the back plate (null) or of a plate. @throws Problem `plate-locked`, `not-cut` */
export function replaceDepth(
  at: ShotAt,
  label: string,
  map: DepthMap,
  plate: string | null = null,
): Promise<ShotState> {
  return changeShot(at, label, async (em, document) =>
    withDepth(document, plate, async () => (await storeMap(em, map)).id),
  );
}

/** Puts a depth picture in the place of a depth map. @throws Problem `plate-locked`, `not-cut`; what is wrong with the file */
export async function importDepth(at: ShotAt, file: DepthFile, plate: string | null): Promise<ShotState> {
  const { source } = await documentOf(at);
  const { revision } = await inThread('importDepth', { source, file });
  return changeShot(
    at,
    `Depth from ${file.fileName}`,
    (_em, document) => withDepth(document, plate, () => Promise.resolve(revision)),
    { fits: (current) => current.source.mediaId === source.mediaId },
  );
}

async function withBehind(document: ShotDocument, make: (from: string) => Promise<string>): Promise<ShotDocument> {
  const { behind } = document.depth;
  if (behind === null)
    throw new Problem(
      422,
      'not-opened',
      'The depth behind the plates is not open yet. Switch it on in the Depth stage first.',
    );
  return { ...document, depth: { ...document.depth, behind: await make(behind) } };
}

/** The document with another depth revision for the back plate (null) or a plate, which must be cut and not locked. */
async function withDepth(
  document: ShotDocument,
  plateId: string | null,
  make: (from: string) => Promise<string>,
): Promise<ShotDocument> {
  if (plateId === null)
    return { ...document, depth: { ...document.depth, revision: await make(document.depth.revision) } };
  const plate = plateOf(document, plateId);
  requireUnlocked(plate);
  if (plate.depth.revision === null)
    throw new Problem(422, 'not-cut', `${plate.name} is only planned and has no depth yet. Cut it first.`);
  const revision = await make(plate.depth.revision);
  return {
    ...document,
    plates: document.plates.map((p) => (p.id === plateId ? { ...p, depth: { ...p.depth, revision } } : p)),
  };
}
