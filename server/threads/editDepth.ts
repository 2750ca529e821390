import { editLabel, type DepthEdit } from '@/core/depth/edits';
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
 * `moved-on`
 */
export const editDepth = task<Editing, ShotState>(({ at, edit, plate, behind }) => {
  const label = behind ? `${editLabel(edit)} behind the plates` : editLabel(edit);
  return changeShot(at, label, async (em, document) => {
    const edited = async (revision: string): Promise<string> =>
      (await applyEdit(em, await loadRevision(em, revision), edit)).id;
    return behind ? withBehind(document, edited) : withDepth(document, plate, edited);
  });
});
