import type { EntityManager } from '@mikro-orm/postgresql';
import { applyDepthEdit, editBounds, goesByTiles, needsColours, type DepthEdit } from '@/core/depth/edits';
import type { DepthWindow } from '@/core/depth/window';
import type { Rect } from '@/core/raster/geometry';
import { Problem } from '../http/problem';
import { changeTiles, readWindow, replaceWindows, tilesUnder, type Revision } from './revisions';
import { TILE } from './tiles';

/**
 * Applies an edit and stores the changed tiles as a new revision. Strokes work tile by tile, ramps and outlines tile
 * row by tile row, so that
 * a large map is never held whole; a stroke that looks around works on all that lies under it at once.
 * @param coloursOf the picture's colours in a rectangle, for edits that need them
 * @throws Problem `missed` where the edit does not touch the map
 */
export async function applyEdit(
  em: EntityManager,
  revision: Revision,
  edit: DepthEdit,
  coloursOf: (rect: Rect) => Promise<Uint8Array>,
): Promise<Revision> {
  const bounds = editBounds(edit, revision);
  if (!bounds) throw new Problem(422, 'missed', 'The stroke lies outside the picture, so nothing was changed.');
  const around = tilesUnder(bounds, revision);
  if (goesByTiles(edit)) return changeTiles(em, revision, around, (tile) => applyDepthEdit(tile, edit) !== undefined);
  const step = edit.kind === 'stroke' ? around.bottom - around.top : TILE;
  async function* edited(): AsyncGenerator<DepthWindow> {
    for (let top = around.top; top < around.bottom; top += step) {
      const rows = { ...around, top, bottom: Math.min(around.bottom, top + step) };
      const map = await readWindow(em, revision, rows);
      const window = needsColours(edit) ? { ...map, colours: await coloursOf(rows) } : map;
      if (applyDepthEdit(window, edit)) yield window;
    }
  }
  return replaceWindows(em, revision, edited());
}
