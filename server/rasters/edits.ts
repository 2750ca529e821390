import type { EntityManager } from '@mikro-orm/postgresql';
import { applyDepthEdit, editBounds, looksAround, type DepthEdit } from '@/core/depth/edits';
import { Problem } from '../http/problem';
import { changeTiles, readWindow, replaceWindows, tilesUnder, type Revision } from './revisions';

/**
 * Applies an edit and stores the changed tiles as a new revision, tile by tile, so that a large map is never held whole; a stroke that
 * looks around works on all that lies under it at once.
 * @throws Problem `missed` where the edit does not touch the map
 */
export async function applyEdit(em: EntityManager, revision: Revision, edit: DepthEdit): Promise<Revision> {
  const bounds = editBounds(edit, revision);
  if (!bounds) throw new Problem(422, 'missed', 'The stroke lies outside the picture, so nothing was changed.');
  const around = tilesUnder(bounds, revision);
  if (!looksAround(edit)) return changeTiles(em, revision, around, (tile) => applyDepthEdit(tile, edit) !== undefined);
  const window = await readWindow(em, revision, around);
  return replaceWindows(em, revision, applyDepthEdit(window, edit) ? [window] : []);
}
