import { z } from 'zod';

/** Footage may have so many frames: a minute at 60 a second. */
export const MOST_FOOTAGE = 3600;

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
  /** Frames that somebody has marked. */
  markers: z.array(z.strictObject({ frame, name: z.string().trim().min(1).max(60) })).max(200),
});
export type Footage = z.infer<typeof footageSchema>;

/** The first and the last frame that are worked on. */
export function footageRange({ range, frames }: Pick<Footage, 'range' | 'frames'>): { first: number; last: number } {
  const last = frames - 1;
  return range ? { first: Math.min(range.first, last), last: Math.min(range.last, last) } : { first: 0, last };
}
