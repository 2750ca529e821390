import { z } from 'zod';
import { keptDepthsPart } from './keptDepths';
import { easeSchema } from '../../time/ease';
import { footageFrame as frame, MOST_FOOTAGE, MOST_KEYS, rising } from './frames';
import { marksPart } from './marks';
import { paintedPart } from './plate';
import { budgetSchema } from './stereo';

const rateSchema = z.strictObject({
  numerator: z.number().int().positive(),
  denominator: z.number().int().positive(),
});

/** What a source that moves has beside its first frame. Frames count from 0. */
export const footageSchema = z.strictObject({
  frames: z.number().int().min(1).max(MOST_FOOTAGE),
  rate: rateSchema,
  /** What goes with it; handed through as it came. Null: silent. */
  sound: z.strictObject({ codec: z.string().max(40), seconds: z.number().min(0) }).nullable(),
  /** The first and the last frame that are worked on; null: all. */
  range: z.strictObject({ first: frame, last: frame }).nullable(),
  /** Frames whose depth was made by hand, in their order; the first frame is one of them. Carried to the others. */
  keys: z
    .array(
      z.strictObject({
        frame,
        /** The back plate's map. */
        revision: z.uuid(),
        ...marksPart,
        ...keptDepthsPart,
      }),
    )
    .min(1)
    .max(MOST_KEYS)
    .refine((keys) => keys[0].frame === 0 && rising(keys), 'Keys must follow one another.'),
  /** Frames at which what lies behind the plates was filled; carried to the others. */
  fills: z
    .array(z.strictObject({ frame, ...paintedPart }))
    .max(MOST_KEYS)
    .refine(rising, 'Keys must follow one another.'),
  /** How much depth there is over time; without keys the shot's budget holds for all frames. */
  script: z
    .array(z.strictObject({ frame, ease: easeSchema, budget: budgetSchema }))
    .max(MOST_KEYS)
    .refine(rising, 'Keys must follow one another.'),
  /** Frames that somebody has marked. */
  markers: z.array(z.strictObject({ frame, name: z.string().trim().min(1).max(60) })).max(200),
});
export type Footage = z.infer<typeof footageSchema>;
export type DepthKeyPart = Footage['keys'][number];
export type FillKeyPart = Footage['fills'][number];

/** What a page may change of it; keys have their own ways. */
export const footagePatchSchema = footageSchema.pick({ range: true, markers: true, script: true }).partial();

/** The first and the last frame that are worked on. */
export function footageRange({ range, frames }: Pick<Footage, 'range' | 'frames'>): { first: number; last: number } {
  const last = frames - 1;
  return range ? { first: Math.min(range.first, last), last: Math.min(range.last, last) } : { first: 0, last };
}
