import type { Ingredient } from '@/core/matte/ingredients';
import type { Point } from '@/core/raster/geometry';
import { curveAt, splitCurve, type CurveNode } from '@/core/matte/curve';

/** Ingredients whose corners can be moved one by one. Drawn freely, an outline has too many to take hold of. */
export type Shaped = Extract<Ingredient, { kind: 'outline' | 'curve' }>;
export const MOST_CORNERS = 120;

export function shapeOf(ingredient: Ingredient | undefined): Shaped | undefined {
  if (ingredient?.kind === 'curve') return ingredient;
  return ingredient?.kind === 'outline' && ingredient.points.length <= MOST_CORNERS ? ingredient : undefined;
}

/** What of a shape lies under the pen: a corner, a handle of it, or a place on the line between two corners. */
export type Hold =
  | { readonly part: 'corner' | 'in' | 'out'; readonly n: number }
  | { readonly part: 'line'; readonly n: number; readonly t: number };

const at = (p: Point): Point => ({ x: Math.round(p.x * 10) / 10, y: Math.round(p.y * 10) / 10 });
const apart = (a: Point, b: Point): number => Math.hypot(a.x - b.x, a.y - b.y);

/** @param reach how near the pen must be, px of the picture */
export function holdAt(shape: Shaped, pen: Point, reach: number): Hold | undefined {
  const corners: readonly Point[] = shape.kind === 'curve' ? shape.nodes : shape.points;
  const n = nearest(corners, pen, reach);
  if (n !== undefined) return { part: 'corner', n };
  if (shape.kind === 'curve') {
    for (const part of ['out', 'in'] as const) {
      const k = nearest(
        shape.nodes.map((c) => (part === 'out' ? { x: c.outX, y: c.outY } : { x: c.inX, y: c.inY })),
        pen,
        reach,
      );
      if (k !== undefined) return { part, n: k };
    }
  }
  let best = reach;
  let hold: Hold | undefined;
  corners.forEach((a, k) => {
    const b = corners[(k + 1) % corners.length];
    for (let step = 1; step < 24; step++) {
      const t = step / 24;
      const p =
        shape.kind === 'curve'
          ? curveAt(shape.nodes[k], shape.nodes[(k + 1) % corners.length], t)
          : { x: a.x + (b.x - a.x) * t, y: a.y + (b.y - a.y) * t };
      const d = apart(p, pen);
      if (d < best) {
        best = d;
        hold = { part: 'line', n: k, t };
      }
    }
  });
  return hold;
}

function nearest(points: readonly Point[], pen: Point, reach: number): number | undefined {
  let best = reach;
  let found: number | undefined;
  points.forEach((p, n) => {
    const d = apart(p, pen);
    if (d <= best) {
      best = d;
      found = n;
    }
  });
  return found;
}

/** Moves what is held to a place; a handle's partner turns with it unless it is moved `alone`. */
export function moveHold(shape: Shaped, hold: Hold, to: Point, alone: boolean): Shaped {
  if (hold.part === 'line') return shape;
  if (shape.kind === 'outline') return { ...shape, points: shape.points.map((p, n) => (n === hold.n ? at(to) : p)) };
  return { ...shape, nodes: shape.nodes.map((c, n) => (n === hold.n ? rounded(moved(c, hold.part, to, alone)) : c)) };
}

function moved(c: CurveNode, part: 'corner' | 'in' | 'out', to: Point, alone: boolean): CurveNode {
  if (part === 'corner') {
    const dx = to.x - c.x;
    const dy = to.y - c.y;
    return { x: to.x, y: to.y, inX: c.inX + dx, inY: c.inY + dy, outX: c.outX + dx, outY: c.outY + dy };
  }
  const held = part === 'in' ? { ...c, inX: to.x, inY: to.y } : { ...c, outX: to.x, outY: to.y };
  if (alone) return held;
  const other = part === 'in' ? { x: c.outX, y: c.outY } : { x: c.inX, y: c.inY };
  const length = apart(other, c);
  const pulled = apart(to, c);
  if (pulled === 0) return held;
  const x = c.x - ((to.x - c.x) / pulled) * length;
  const y = c.y - ((to.y - c.y) / pulled) * length;
  return part === 'in' ? { ...held, outX: x, outY: y } : { ...held, inX: x, inY: y };
}

const rounded = (c: CurveNode): CurveNode =>
  Object.fromEntries(
    Object.entries(c).map(([k, v]: [string, number]) => [k, Math.round(v * 10) / 10]),
  ) as unknown as CurveNode;

/** Adds a corner where the line is held; its number is one more than the hold's. */
export function addCorner(shape: Shaped, hold: Extract<Hold, { part: 'line' }>): Shaped {
  if (shape.kind === 'curve') return { ...shape, nodes: splitCurve(shape.nodes, hold.n, hold.t).map(rounded) };
  const a = shape.points[hold.n];
  const b = shape.points[(hold.n + 1) % shape.points.length];
  return {
    ...shape,
    points: [
      ...shape.points.slice(0, hold.n + 1),
      at({ x: a.x + (b.x - a.x) * hold.t, y: a.y + (b.y - a.y) * hold.t }),
      ...shape.points.slice(hold.n + 1),
    ],
  };
}

/** Takes a corner out, as long as a shape is left. */
export function dropCorner(shape: Shaped, n: number): Shaped {
  if (shape.kind === 'curve')
    return shape.nodes.length <= 2 ? shape : { ...shape, nodes: shape.nodes.filter((_, k) => k !== n) };
  return shape.points.length <= 3 ? shape : { ...shape, points: shape.points.filter((_, k) => k !== n) };
}

/** A node at a place, with handles drawn out to `handle` and its opposite; a corner where the two are one. */
export function nodeAt(p: Point, handle: Point): CurveNode {
  return rounded({ x: p.x, y: p.y, outX: handle.x, outY: handle.y, inX: 2 * p.x - handle.x, inY: 2 * p.y - handle.y });
}
