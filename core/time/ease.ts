import { z } from 'zod';
import { bezierAt, type Bezier } from './bezier';

/** Eases with a name; `hold` stays until the next key. */
const NAMED = {
  linear: [0, 0, 1, 1],
  gentle: [0.42, 0, 0.58, 1],
  settle: [0, 0, 0.4, 1],
  late: [0.7, 0, 0.84, 0.4],
  early: [0.16, 0.6, 0.3, 1],
} as const satisfies Record<string, Bezier>;

export const EASES = ['linear', 'gentle', 'settle', 'late', 'early', 'hold'] as const;

const share = z.number().min(0).max(1);
const beyond = z.number().min(-4).max(5);

/** How one key goes over to the next: a name, or the inner points of a curve of one's own. */
export const easeSchema = z.union([z.enum(EASES), z.tuple([share, beyond, share, beyond])]);
export type Ease = z.infer<typeof easeSchema>;

/** How far something has come at a share of its time. @param time 0 to 1 */
export function easeAt(ease: Ease, time: number): number {
  if (ease === 'hold') return time >= 1 ? 1 : 0;
  const curve = curveOf(ease);
  return curve[0] === curve[1] && curve[2] === curve[3] ? Math.min(1, Math.max(0, time)) : bezierAt(curve, time);
}

/** The curve of an ease that has one. */
export const curveOf = (ease: Exclude<Ease, 'hold'>): Bezier => (typeof ease === 'string' ? NAMED[ease] : ease);
