import type { DepthMake } from '@/core/depth/makers';
import type { PROFILES, ROUND_ALONG } from '@/core/depth/makers/round';
import type { Choice } from '@/core/matte/choice';

/** What a map can be shaped by. */
export const SHAPES = [
  { value: 'round', label: 'Round' },
  { value: 'slice', label: 'Slice' },
  { value: 'level', label: 'Level' },
  { value: 'blend', label: 'Blend' },
  { value: 'match', label: 'Match' },
  { value: 'uneven', label: 'Uneven' },
  { value: 'fit', label: 'Fit' },
  { value: 'mend', label: 'Mend' },
] as const;
export type ShapeKind = (typeof SHAPES)[number]['value'];

/** The numbers by which a whole map, or a part of it, is shaped. */
export interface Shape {
  kind: ShapeKind;
  /** All that the plate in work holds, or what is chosen in the picture. */
  where: 'all' | 'chosen';
  profile: (typeof PROFILES)[number];
  along: (typeof ROUND_ALONG)[number];
  by: number;
  reach: number;
  from: number;
  to: number;
  times: number;
  soft: number;
  fitBy: 'smoothed' | 'guided';
  fitPx: number;
  edge: number;
  level: number;
  side: 'outward' | 'inward';
  blendPx: number;
  /** What is matched with: the middle of a round part and its size, px; undefined until it is picked. */
  like: { readonly x: number; readonly y: number; readonly size: number } | undefined;
  /** The next press picks that. */
  picking: boolean;
  span: boolean;
  bumps: number;
  grain: number;
  seed: number;
}

export const FIRST_SHAPE: Shape = {
  ...{ kind: 'round', where: 'all', profile: 'ball', along: 'all', by: 0.1, reach: 1 },
  ...{ from: 0.4, to: 0.6, times: 1, soft: 0.05, fitBy: 'smoothed', fitPx: 10, edge: 8 },
  ...{ level: 0.5, side: 'outward', blendPx: 40, like: undefined, picking: false, span: false },
  ...{ bumps: 0.03, grain: 24, seed: 1 },
};

/** Shapes that begin at an edge. */
const NEEDS_EDGE: ReadonlySet<ShapeKind> = new Set(['round', 'blend', 'match']);

/** What a shape still lacks, as a sentence; undefined where it can be made. @param cut the plate in work was cut */
export function missing(shape: Shape, choice: Choice, cut: boolean): string | undefined {
  const { kind, where, like } = shape;
  if (kind === 'mend') return undefined;
  if (where === 'chosen' && choice.ingredients.length === 0)
    return 'Draw around the part on the picture: click corner after corner, or hold the button down; a double click closes it.';
  if (NEEDS_EDGE.has(kind) && where === 'all' && !cut)
    return 'This begins at an edge: choose a part of the picture, or the card of a plate that was cut.';
  if (kind === 'blend' && where === 'all')
    return 'What surrounds a plate is another plate’s depth. Choose a part of this one, or blend on the back plate.';
  if (kind === 'match' && !like) return 'Pick what it shall be as deep as.';
  return undefined;
}

/** What the numbers make; only where nothing is missing. A slice whose ends were exchanged is meant all the same. */
export function makeOf(shape: Shape, choice: Choice): DepthMake {
  const { kind, by, from, to } = shape;
  const where = shape.where === 'chosen' ? ({ kind: 'chosen', choice } as const) : undefined;
  switch (kind) {
    case 'round':
      return { kind, where, profile: shape.profile, along: shape.along, by, reach: shape.reach };
    case 'slice': {
      const [low, high] = from < to ? [from, to] : [to, from];
      return { kind, where, from: low, to: Math.max(high, low + 0.001), by, times: shape.times, soft: shape.soft };
    }
    case 'level':
      return { kind, where, depth: shape.level };
    case 'blend':
      return { kind, where, px: shape.blendPx, side: shape.side };
    case 'match':
      return { kind, where, like: shape.like!, span: shape.span };
    case 'uneven':
      return { kind, where, by: shape.bumps, grain: shape.grain, seed: shape.seed };
    case 'fit':
      return { kind, where, by: shape.fitBy, reach: shape.fitPx, edge: shape.edge };
    case 'mend':
      return { kind };
  }
}
