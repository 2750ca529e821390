import { z } from 'zod';
import { choiceSchema } from '@/core/matte/choice';

const fileName = z.string().regex(/^[^/\\]+\.png$/, 'must be the name of a PNG file in the same folder');
const end = z.number().min(0).max(1);

/** plates.json: the plates of a shot from far to near, the back plate first. Described in docs/formats.md. */
export const plateListSchema = z.object({
  version: z.literal(1),
  shot: z.string(),
  width: z.number().int().positive(),
  height: z.number().int().positive(),
  sourceEye: z.enum(['left', 'centre', 'right']),
  tearPx: z.number().min(0),
  plates: z
    .array(
      z.object({
        name: z.string().trim().min(1).max(60),
        picture: fileName,
        matte: fileName.nullable(),
        depth: fileName,
        fill: fileName.nullable(),
        fillDepth: fileName.nullable().default(null),
        filled: fileName.nullable().default(null),
        overpaint: fileName.nullable().default(null),
        behind: fileName.nullable().default(null),
        near: end,
        far: end,
        hidden: z.boolean(),
        locked: z.boolean().default(false),
        group: z.string().trim().min(1).max(60).nullable().default(null),
        /** Where the files' upper left corner lies on the canvas, px; not 0 where they are trimmed. */
        left: z.number().int().min(0).default(0),
        top: z.number().int().min(0).default(0),
        /** How it was chosen, where it was cut from the back plate's picture. */
        choice: choiceSchema.nullable().default(null).catch(null),
      }),
    )
    .min(1)
    .max(41),
});
export type PlateList = z.infer<typeof plateListSchema>;
export type PlateEntry = PlateList['plates'][number];
