import { z } from 'zod';
import { moved, point } from '../../matte/ingredients/ground';

/** Most strokes that are held for a plate. */
export const HELD_STROKES = 60;

/** The corners of a stroke by which the artist says how a fill goes on, its ends among them; full-size px. */
export const strokePoints = z
  .array(point)
  .min(2)
  .max(64)
  .refine(
    (points) => points.some((p) => p.x !== points[0].x || p.y !== points[0].y),
    'A stroke leads from one place to another.',
  );

/**
 * A stroke that every fill of its plate heeds: a line, `width` px wide, goes on along it, or, a border, two grounds meet there and
 * each is filled from its own side within reach. Px of the source.
 */
export const heldStrokeSchema = z.strictObject({
  id: z.uuid(),
  kind: z.enum(['line', 'border']),
  points: strokePoints,
  /** Of a line. */
  width: z.number().min(2).max(1000),
  /** So far to each side what lies beside it was filled with it. */
  reach: z.number().min(1).max(1000),
});
export type HeldStroke = z.infer<typeof heldStrokeSchema>;

/** The same stroke on a canvas that has grown. */
export const shiftStroke = (stroke: HeldStroke, dx: number, dy: number): HeldStroke => ({
  ...stroke,
  points: stroke.points.map((p) => moved(p, dx, dy)),
});
