import type { EntityManager } from '@mikro-orm/postgresql';
import { applyDepthEdit, editBounds, type DepthEdit } from '@/core/depth/edits';
import type { DepthWindow } from '@/core/depth/window';
import { Problem } from '../http/problem';
import { readWindow, replaceWindows, tilesUnder, type Revision } from './revisions';
import { TILE } from './tiles';

/**
 * Applies an edit and stores the changed tiles as a new revision. Ramps and outlines work tile row by tile row, so that a
 * large map is never held whole; a stroke works on the tiles under it.
 * @throws Problem `missed` where the edit does not touch the map
 */
export function applyEdit(em: EntityManager, revision: Revision, edit: DepthEdit): Promise<Revision> {
  const bounds = editBounds(edit, revision);
  if (!bounds) throw new Problem(422, 'missed', 'The stroke lies outside the picture, so nothing was changed.');
  const { left, top, right, bottom } = tilesUnder(bounds, revision);
  const step = edit.kind === 'stroke' ? bottom - top : TILE;
  async function* edited(): AsyncGenerator<DepthWindow> {
    for (let y = top; y < bottom; y += step) {
      const window = await readWindow(em, revision, { left, top: y, right, bottom: Math.min(bottom, y + step) });
      if (applyDepthEdit(window, edit)) yield window;
    }
  }
  return replaceWindows(em, revision, edited());
}
