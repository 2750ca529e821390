import { z } from 'zod';
import { MOST_FRAMES } from '../../camera/cameraFile';
import type { Move } from '../../camera/move';
import { easeSchema } from '../../time/ease';
import { FASTEST, SLOWEST } from '../../time/rate';

const far = z.number().min(-1e6).max(1e6);
const degrees = z.number().min(-720).max(720);
const vector = z.tuple([far, far, far]);

/** How the camera stands at a frame, and how it goes on to the next key. Frames count from 0. */
export const cameraKeySchema = z.strictObject({
  frame: z.number().int().min(0).max(MOST_FRAMES),
  ease: easeSchema,
  value: z.strictObject({
    /** Right, up, forward from the source camera, in the scene's unit. */
    position: vector,
    /** What keeps its place in the picture while the camera moves; null: it does not turn by itself. */
    aim: vector.nullable(),
    pan: degrees,
    tilt: degrees,
    roll: degrees,
    zoom: z.number().min(0.05).max(20),
  }),
});

/** A camera that moves through the picture. */
export const moveSchema = z.strictObject({
  fps: z.number().min(SLOWEST).max(FASTEST),
  frames: z.number().int().min(2).max(MOST_FRAMES),
  path: z.enum(['straight', 'smooth']),
  /** By the keys' frames, or at one speed all along the way. */
  pace: z.enum(['keys', 'even']),
  play: z.enum(['once', 'loop', 'there-and-back']),
  /** The first and the last frame that are played and handed over; null: all. */
  range: z.strictObject({ first: z.number().int().min(0), last: z.number().int().min(0) }).nullable(),
  /** The ready move that the keys came from, and its strength, as long as no hand has changed them. */
  ready: z.strictObject({ kind: z.string().max(40), strength: z.number().min(0).max(4) }).nullable(),
  keys: z
    .array(cameraKeySchema)
    .min(1)
    .max(500)
    .refine(
      (keys) => keys.every((key, n) => n === 0 || key.frame > keys[n - 1].frame),
      'Keys must follow one another.',
    ),
}) satisfies z.ZodType<Move>;
export type MovePart = z.infer<typeof moveSchema>;
export type CameraKey = MovePart['keys'][number];

/** A move that is kept beside the one that is worked on. */
export const keptMoveSchema = z.strictObject({ name: z.string().trim().min(1).max(60), move: moveSchema });
export type KeptMove = z.infer<typeof keptMoveSchema>;
/** So many are kept. */
export const KEPT_MOVES = 12;

/** The first and the last frame that are played and handed over. */
export function rangeOf({ range, frames }: Pick<MovePart, 'range' | 'frames'>): { first: number; last: number } {
  const last = frames - 1;
  return range ? { first: Math.min(range.first, last), last: Math.min(range.last, last) } : { first: 0, last };
}
