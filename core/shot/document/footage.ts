import { z } from 'zod';
import { keptDepthsPart } from './keptDepths';
import { easeSchema } from '../../time/ease';
import { marksPart } from './marks';
import { budgetSchema } from './stereo';

/** Footage may have so many frames: a minute at 60 a second. */
export const MOST_FOOTAGE = 3600;

/** So many frames may have depth of their own. */
const MOST_KEYS = 400;

const frame = z.number().int().min(0).max(MOST_FOOTAGE);
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
        /** The back plate's map, and where that is painted behind plates. */
        revision: z.uuid(),
        behind: z.uuid().nullable(),
        ...marksPart,
        ...keptDepthsPart,
      }),
    )
    .min(1)
    .max(MOST_KEYS)
    .refine(
      (keys) => keys.every((key, n) => (n === 0 ? key.frame === 0 : key.frame > keys[n - 1].frame)),
      'Keys must follow one another.',
    ),
  /** How much depth there is over time; without keys the shot's budget holds for all frames. */
  script: z
    .array(z.strictObject({ frame, ease: easeSchema, budget: budgetSchema }))
    .max(MOST_KEYS)
    .refine(
      (keys) => keys.every((key, n) => n === 0 || key.frame > keys[n - 1].frame),
      'Keys must follow one another.',
    ),
  /** Frames that somebody has marked. */
  markers: z.array(z.strictObject({ frame, name: z.string().trim().min(1).max(60) })).max(200),
});
export type Footage = z.infer<typeof footageSchema>;
export type DepthKeyPart = Footage['keys'][number];

/** What a page may change of it; keys have their own ways. */
export const footagePatchSchema = footageSchema.pick({ range: true, markers: true, script: true }).partial();

/** The first and the last frame that are worked on. */
export function footageRange({ range, frames }: Pick<Footage, 'range' | 'frames'>): { first: number; last: number } {
  const last = frames - 1;
  return range ? { first: Math.min(range.first, last), last: Math.min(range.last, last) } : { first: 0, last };
}
