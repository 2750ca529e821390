import type { z } from 'zod';
import { kindOf, schemaOf } from '../../kind';
import type { Rect } from '../../raster/geometry';
import type { FillCanvas, FillGround, FillTargets } from './canvas';
import { clone } from './clone';
import { copy } from './copy';
import { erase } from './erase';
import { line } from './line';

export type { FillCanvas, FillGround, FillTargets };

/** Every kind of edit by hand of what was filled in. A new one is a file in this folder and a name in this list. */
const FILL_EDITS = [clone, erase, copy, line] as const;

/** What is done by hand to what was filled in; full-size px. */
export const fillEditSchema = schemaOf(FILL_EDITS);
export type FillEdit = z.infer<typeof fillEditSchema>;

const kindOfEdit = (edit: FillEdit) => kindOf<FillEdit, FillCanvas, Rect>(FILL_EDITS, edit);

/**
 * Does an edit by hand to what was filled in and painted, in place. Lands in the hidden part only, unless it may go beyond.
 * @returns the rectangle that was touched
 * @throws CoreError `missed` where nothing lands; `flat`; `too-short`
 */
export const applyFillEdit = (canvas: FillCanvas, edit: FillEdit): Rect => kindOfEdit(edit).apply(canvas, edit);

/** What an edit is called in the history. */
export const fillEditLabel = (edit: FillEdit): string => kindOfEdit(edit).label(edit);
