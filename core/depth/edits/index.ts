import type { z } from 'zod';
import { kindOf, schemaOf, type Size } from '../../kind';
import type { Rect } from '../../raster/geometry';
import { looksAround } from '../brush';
import type { DepthWindow } from '../window';
import { polygon } from './polygon';
import { ramp } from './ramp';
import { stroke } from './stroke';

/** Every kind of edit of a depth map. A new one is a file in this folder and a name in this list. */
const DEPTH_EDITS = [stroke, ramp, polygon] as const;

/** One edit of a depth map, as it travels from the page to the server; both apply it with the same code. */
export const depthEditSchema = schemaOf(DEPTH_EDITS);
export type DepthEdit = z.infer<typeof depthEditSchema>;

const kindOfEdit = (edit: DepthEdit) => kindOf<DepthEdit, DepthWindow, Rect | undefined>(DEPTH_EDITS, edit);

/** What an edit can touch or needs to look at, clipped to the map, full-size px; undefined where it misses the map. */
export const editBounds = (edit: DepthEdit, size: Size): Rect | undefined => kindOfEdit(edit).bounds(edit, size);

/** Applies an edit to a window in place; returns what changed, in window px. */
export const applyDepthEdit = (window: DepthWindow, edit: DepthEdit): Rect | undefined =>
  kindOfEdit(edit).apply(window, edit);

/**
 * True for what is best applied to each tile for itself: strokes, but for those that make a pixel's depth of its
 * neighbours'. An outline is
 * looked through at every row, so that rows of tiles are better for it.
 */
export const goesByTiles = (edit: DepthEdit): boolean => edit.kind === 'stroke' && !looksAround(edit);

/** True for what needs the picture's colours beside the map. */
export const needsColours = (edit: DepthEdit): boolean => edit.kind === 'stroke' && (edit.edge ?? 0) > 0;

/** What an edit is called in the history. */
export const editLabel = (edit: DepthEdit): string => kindOfEdit(edit).label(edit);

/** An edit on a canvas that has grown. */
export const shiftDepthEdit = (edit: DepthEdit, dx: number, dy: number): DepthEdit =>
  kindOfEdit(edit).shift(edit, dx, dy);
