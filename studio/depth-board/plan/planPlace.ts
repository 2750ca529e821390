import type { PlanAxis } from '@/core/scene/plan';

/** Width of the unrolled cork, css px, and how much of it at each side lies outside the source. */
export const PLAN_WIDTH = 210;
export const OUTSIDE = 17;
/** The source's columns, or rows, are so wide, css px. */
export const INSIDE = PLAN_WIDTH - 2 * OUTSIDE;

/** Where the scene lies in the plan. */
export interface PlanPlace {
  readonly axis: PlanAxis;
  /** The ruler's length, css px. */
  readonly length: number;
  /** So many px of the source lie across. */
  readonly across: number;
}

/** A place across the source, px with centres at whole numbers, in css px from the cork's left. */
export const leftOf = ({ across }: PlanPlace, px: number): number => OUTSIDE + ((px + 0.5) / across) * INSIDE;
/** The place across the source of css px from the cork's left. */
export const acrossOf = ({ across }: PlanPlace, left: number): number => ((left - OUTSIDE) / INSIDE) * across - 0.5;
/** A depth, 1 nearest to 0 farthest, in css px from the ruler's far end. */
export const downOf = ({ length }: PlanPlace, depth: number): number => depth * length;

/** Where name slips lie along the ruler, each as near as may be to where it belongs, none over another, css px. */
export function apart(wanted: readonly number[], height: number, length: number): number[] {
  const order = wanted.map((_, n) => n).sort((a, b) => wanted[a] - wanted[b]);
  const at = [...wanted];
  let least = 0;
  for (const n of order) {
    at[n] = Math.max(least, at[n]);
    least = at[n] + height;
  }
  let most = length;
  for (const n of [...order].reverse()) {
    at[n] = Math.min(at[n], most - height);
    most = at[n];
  }
  return at;
}
