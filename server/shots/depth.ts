import type { Mended } from '@/core/depth/mendDepth';
import type { DepthEdit } from '@/core/depth/edits';
import type { ShotDocument } from '@/core/shot/document';
import { database } from '../db/orm';
import { isUniform } from '../rasters/revisions';
import type { DepthFile } from '../threads/importDepth';
import { inThread } from '../threads/pool';
import { withDepth } from './depthOf';
import { changeShot, documentOf, type ShotAt, type ShotState } from './history';

/** Which depth is meant: a plate's, the back plate's (null), or the back plate's where plates hide it. */
export interface DepthTarget {
  /** @default null */
  readonly plate?: string | null;
  /** @default false */
  readonly behind?: boolean;
}

/** The shot with a depth that was brought in, and what that lacked; null where it was left as it is. */
export type DepthBroughtIn = ShotState & { readonly mended?: Mended | null };

/** True while the back plate has one depth everywhere. */
export async function isFlat({ depth }: ShotDocument): Promise<boolean> {
  return isUniform(await database(), depth.revision);
}

/**
 * Edits a depth, in a thread: many artists paint at the same time. @throws Problem `plate-locked`, `not-cut`,
 * `not-opened`; `missed`
 */
export function editDepth(
  at: ShotAt,
  edit: DepthEdit,
  { plate = null, behind = false }: DepthTarget = {},
): Promise<ShotState> {
  return inThread('editDepth', { at, edit, plate, behind }, { quickOn: at.id });
}

/** Puts a depth picture in the place of a depth map. @throws Problem `plate-locked`, `not-cut`; what is wrong with the file */
export async function importDepth(at: ShotAt, file: DepthFile, plate: string | null): Promise<DepthBroughtIn> {
  const { source } = await documentOf(at);
  const { revision, mended } = await inThread('importDepth', { source, file });
  return changeShot(
    at,
    `Depth from ${file.fileName}`,
    async (_em, document) => ({
      document: await withDepth(document, plate, () => Promise.resolve(revision)),
      answer: { mended },
    }),
    { fits: (current) => current.source.mediaId === source.mediaId },
  );
}
