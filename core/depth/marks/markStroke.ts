import { z } from 'zod';
import { depthValue, moved, place } from '../edits/values';

/** Most marks of a map, and most points of one. */
export const MARKS = 200;

const name = z.string().trim().max(40);

/**
 * A mark as it was drawn: a stroke of so many full-size px of width, and what it says: its depth, or how it stands to
 * another mark.
 */
export const markStrokeSchema = z.strictObject({
  id: z.uuid(),
  /** What it is called. @default nothing */
  name: name.default(''),
  points: z
    .array(z.strictObject({ x: place, y: place }))
    .min(1)
    .max(2000),
  width: z.number().min(1).max(1000),
  says: z.discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('depth'), depth: depthValue }),
    /** As deep as another mark. */
    z.strictObject({ kind: z.literal('same'), as: z.uuid() }),
    /** Nearer than another mark, by so much at least. */
    z.strictObject({ kind: z.literal('nearer'), as: z.uuid(), by: z.number().min(0).max(1) }),
  ]),
});
export type MarkStroke = z.infer<typeof markStrokeSchema>;

export const marksSchema = z.strictObject({
  kind: z.literal('marks'),
  marks: z.array(markStrokeSchema).max(MARKS),
  /** replace: the map is made of marks alone; correct: the map that was there is bent to them. */
  by: z.enum(['replace', 'correct']),
  /** What was painted on the map since marks made it goes. @default it stays, over the marks */
  overPaint: z.boolean().optional(),
});
export type MarksMake = z.infer<typeof marksSchema>;

export const shiftMark = (mark: MarkStroke, dx: number, dy: number): MarkStroke => ({
  ...mark,
  points: mark.points.map((p) => moved(p, dx, dy)),
});
