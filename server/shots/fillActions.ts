import { z } from 'zod';
import { fillEditSchema } from '@/core/fill/edits';
import { FILL_METHODS } from '@/core/inpaint/fillHole';
import { choiceSchema } from '@/core/matte/choice';
import { heldStrokeSchema } from '@/core/shot/document';

const plate = z.uuid().nullable();
const seed = z.number().int().min(0).max(1e9);
const chosen = z.strictObject({ kind: z.literal('choice'), choice: choiceSchema });

const byMachine = z.strictObject({
  action: z.literal('fill'),
  plate,
  method: z.enum(FILL_METHODS),
  seeds: z.array(seed).min(1).max(4),
  /** What the views uncover with a margin, all that is hidden, or what a choice holds of it. */
  area: z.discriminatedUnion('kind', [
    z.strictObject({
      kind: z.literal('reveal'),
      views: z.number().int().min(2).max(200),
      marginPx: z.number().min(0).max(400),
      /** Also what the shot's move uncovers. @default false */
      byMove: z.boolean().optional(),
    }),
    z.strictObject({ kind: z.literal('hidden') }),
    chosen,
    /**
     * What lies within reach of a stroke: beside a line that was drawn, or on both sides of a border between two grounds, each from
     * its side alone. The stroke is held: every fill to come heeds it.
     */
    z.strictObject({ kind: z.literal('beside'), stroke: heldStrokeSchema }),
  ]),
  /** Which part of the plate's own pixels is sampled. */
  sample: z.discriminatedUnion('kind', [
    z.strictObject({ kind: z.enum(['everywhere', 'left', 'right', 'above', 'below']) }),
    chosen,
  ]),
});
export type FillByMachine = z.infer<typeof byMachine>;

const byHand = z.strictObject({ action: z.literal('edit'), plate, edit: fillEditSchema });
export type FillByHand = z.infer<typeof byHand>;

/** What can be done to what was filled in behind the plates: by the machine, by hand, or undone. */
export const fillActionSchema = z.discriminatedUnion('action', [
  byMachine,
  byHand,
  /** Takes one of several proposals. */
  z.strictObject({ action: z.literal('take'), plate, revision: z.uuid() }),
  /** Throws away all that was filled in. */
  z.strictObject({ action: z.literal('clear'), plate }),
  /** Fills to come do not heed a stroke any more; what was filled stays. */
  z.strictObject({ action: z.literal('let-go'), plate, stroke: z.uuid() }),
]);
export type FillAction = z.infer<typeof fillActionSchema>;
