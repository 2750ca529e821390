import { editLabel, needsColours, type DepthEdit } from '@/core/depth/edits';
import type { Rect } from '@/core/raster/geometry';
import { Problem } from '../http/problem';
import { rasterColours, sourceRaster } from '../media/decode';
import { applyEdit } from '../rasters/edits';
import { loadRevision } from '../rasters/revisions';
import { withBehind, withDepth } from '../shots/depthOf';
import { changeShot, type ShotAt, type ShotState } from '../shots/history';
import { task } from './task';

/** An edit, and of which depth: a plate's, the back plate's (null), or the back plate's behind the plates. */
interface Editing {
  readonly at: ShotAt;
  readonly edit: DepthEdit;
  readonly plate: string | null;
  readonly behind: boolean;
}

/**
 * One step of a shot's history: its depth edited. @throws Problem `plate-locked`, `not-cut`, `not-opened`; `missed`;
 * `moved-on`; `other-picture`
 */
export const editDepth = task<Editing, ShotState>(({ at, edit, plate, behind }) => {
  const label = behind ? `${editLabel(edit)} behind the plates` : editLabel(edit);
  return changeShot(at, label, async (em, document) => {
    if (needsColours(edit) && (behind || document.plates.some((p) => p.id === plate && p.piece)))
      throw new Problem(
        422,
        'other-picture',
        'Only what is seen of the source has edges that stop a brush. Turn that off for plates that were brought in, and behind plates.',
      );
    const coloursOf = async (rect: Rect): Promise<Uint8Array> =>
      rasterColours(await sourceRaster(document.source), rect);
    const edited = async (revision: string): Promise<string> =>
      (await applyEdit(em, await loadRevision(em, revision), edit, coloursOf)).id;
    return behind ? withBehind(document, edited) : withDepth(document, plate, edited);
  });
});
