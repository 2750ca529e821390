import { CoreError } from '../error';

/** Which view the source stands for. */
export type SourceEye = 'left' | 'centre' | 'right';

/**
 * The allowed parallax of depth white (nearest) and black (farthest), in px at a width of `widthPx`; negative is in
 * front of the screen.
 */
export interface Budget {
  readonly nearPx: number;
  readonly farPx: number;
}

/** A comfortable budget to begin with: 1.25 % of the width in front of the screen, 1.625 % behind it (common practice). */
export function beginBudget(width: number): Budget {
  const tenth = (v: number): number => Math.round(v * 10) / 10;
  return {
    nearPx: tenth(Math.max(-4000, -0.0125 * width)),
    farPx: tenth(Math.min(4000, 0.01625 * width)),
  };
}

/**
 * Parallax xR - xL in px of a depth value.
 * @param depth 1 nearest, 0 farthest, linear in inverse distance
 * Source: docs/computations.md, Geometry.
 */
export function parallaxOf(depth: number, budget: Budget): number {
  return budget.farPx + (budget.nearPx - budget.farPx) * depth;
}

/**
 * The depth value of a parallax in px; not clamped. NaN where the budget is flat, since every depth then has the same
 * parallax.
 */
export function depthOf(parallaxPx: number, budget: Budget): number {
  const all = budget.nearPx - budget.farPx;
  return all === 0 ? Number.NaN : (parallaxPx - budget.farPx) / all;
}

/** Position of the source on the line of eyes: left eye -1/2, right eye +1/2. */
export function sourceEyePosition(sourceEye: SourceEye): number {
  return { left: -0.5, centre: 0, right: 0.5 }[sourceEye];
}

/**
 * Eye positions of `count` views, leftmost first, evenly from -1/2 to +1/2; one view is the middle.
 * @throws CoreError `views-out-of-range` unless count is a whole number from 1 to 200
 */
export function eyePositions(count: number): number[] {
  if (!Number.isInteger(count) || count < 1 || count > 200)
    throw new CoreError(
      'views-out-of-range',
      `The number of views is ${count}; it must be a whole number from 1 to 200.`,
    );
  return count === 1 ? [0] : Array.from({ length: count }, (_, i) => i / (count - 1) - 0.5);
}

/** Parallax of a map's white and black: the budget seen through the depth span that the map is stretched over. */
export function spanBudget(budget: Budget, span: { readonly near: number; readonly far: number }): Budget {
  return { nearPx: parallaxOf(span.near, budget), farPx: parallaxOf(span.far, budget) };
}
