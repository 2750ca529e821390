import { z } from 'zod';
import { MARKS, markStrokeSchema, shiftMark } from '../../depth/marks/markStroke';
import { PLATES } from './plate';

/** The marks of one depth map, so that they can be moved, changed and taken away. */
export const heldMarksSchema = z.strictObject({
  /** The plate whose map it is; null: the back plate's. */
  plate: z.uuid().nullable(),
  /** The map that was there before the first mark. */
  base: z.uuid(),
  /** The map that they made: what differs from it was painted on it since. @default nothing was */
  made: z.uuid().optional(),
  by: z.enum(['replace', 'correct']),
  marks: z.array(markStrokeSchema).min(1).max(MARKS),
});
export type HeldMarks = z.infer<typeof heldMarksSchema>;

/** At most one for every map. */
export const marksPart = { marks: z.array(heldMarksSchema).max(PLATES + 1) } as const;

/** The marks of a plate's map (null: the back plate's). */
export const marksOfPlate = (
  { marks }: { readonly marks: readonly HeldMarks[] },
  plate: string | null,
): HeldMarks | undefined => marks.find((held) => held.plate === plate);

/** The same marks on a canvas that has grown. @param maps those before and after them, grown too */
export const shiftHeldMarks = (
  held: HeldMarks,
  maps: Pick<HeldMarks, 'base' | 'made'>,
  dx: number,
  dy: number,
): HeldMarks => ({
  ...held,
  ...maps,
  marks: held.marks.map((mark) => shiftMark(mark, dx, dy)),
});
