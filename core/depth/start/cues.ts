import { z } from 'zod';

const share = z.number().min(0).max(1);
const weight = z.number().min(0).max(2);

/** How the scene is built: what recedes, and how. */
export const ROOMS = ['none', 'ground', 'street', 'corridor'] as const;
export type RoomShape = (typeof ROOMS)[number];

/** What a start is read off, and how much each counts. */
export const cuesSchema = z.strictObject({
  /** Lower in the picture is nearer; unless a ground says more. */
  position: weight.default(0.74),
  /** What differs from the border's colours is nearer. */
  saliency: weight.default(0.6),
  /** What is sharp is nearer, in pictures that are blurred elsewhere. */
  detail: weight.default(0.63),
  /** What is hazed is farther. */
  haze: weight.default(0),
  /** A room in perspective, in the place of `position`: how much it counts. */
  room: weight.default(1),
  /** none: no room; ground: a ground under a horizon; street: with walls at both sides; corridor: with a ceiling, too. */
  shape: z.enum(ROOMS).default('none'),
  /**
   * Where lines that go away meet, shares of the picture's sides from its left upper corner; the horizon goes through it. Looking
   * up or down it lies below or above the picture.
   */
  vanishing: z.strictObject({ x: share, y: z.number().min(-2).max(3) }).default({ x: 0.5, y: 1 / 3 }),
  /** Sky is as far as can be. */
  sky: z.boolean().default(true),
  /** How closely it is fitted to the picture's edges: 0 not at all. */
  edges: share.default(0.5),
});
export type Cues = z.infer<typeof cuesSchema>;

export const DEFAULT_CUES: Cues = cuesSchema.parse({});
