import type { Point } from '@/core/raster/geometry';
import type { RoomState } from '../room/state';

/** Adds a stroke of region paint: strokes belong to one ingredient as long as nothing else was chosen after it. */
export function addRegionStroke(s: RoomState, points: readonly Point[]): void {
  const { side, size } = s.region;
  const last = s.choice.ingredients[s.choice.ingredients.length - 1];
  const stroke = { side, size, points: thin(points, size / 4) };
  if (last?.kind === 'region') s.choose({ ...last, strokes: [...last.strokes, stroke] }, true);
  else s.choose({ kind: 'region', way: s.joining, strokes: [stroke] });
}

/** Widens the band over hair and leaves; where no band is solved yet, one begins. */
export function addHairStroke(s: RoomState, points: readonly Point[]): void {
  const { edge } = s.choice;
  s.set({
    choice: {
      ...s.choice,
      edge: {
        ...edge,
        solvePx: edge.solvePx || 4,
        unsure: [...edge.unsure, { size: s.hairSize, points: thin(points, s.hairSize / 4) }],
      },
    },
  });
}

/** Adds a flood from the place that was clicked. */
export function addFlood(s: RoomState, at: Point): void {
  s.choose({ kind: 'flood', way: s.joining, x: Math.round(at.x * 10) / 10, y: Math.round(at.y * 10) / 10, ...s.flood });
}

/** Changes the last flood's tolerance and reach after the click. */
export function changeFlood(s: RoomState, flood: RoomState['flood']): void {
  s.set({ flood });
  const last = s.choice.ingredients[s.choice.ingredients.length - 1];
  if (last?.kind === 'flood') s.choose({ ...last, ...flood }, true);
}

/** The outline of a rectangle or an ellipse between two corners. */
export function shapeOutline(shape: 'rectangle' | 'ellipse', a: Point, b: Point): Point[] {
  if (shape === 'rectangle') return [a, { x: b.x, y: a.y }, b, { x: a.x, y: b.y }];
  const rx = (b.x - a.x) / 2;
  const ry = (b.y - a.y) / 2;
  // So many corners that no chord leaves the curve by more than a tenth of a px.
  const n = Math.min(
    720,
    Math.max(12, Math.ceil(Math.PI / Math.acos(Math.max(0, 1 - 0.1 / Math.max(1, Math.abs(rx), Math.abs(ry)))))),
  );
  return Array.from({ length: n }, (_, k) => ({
    x: a.x + rx + rx * Math.cos((2 * Math.PI * k) / n),
    y: a.y + ry + ry * Math.sin((2 * Math.PI * k) / n),
  }));
}

/** Every point that lies at least `step` from the one kept before it, rounded to a tenth of a px. */
function thin(points: readonly Point[], step: number): Point[] {
  const kept: Point[] = [];
  points.forEach((p, n) => {
    const last = kept[kept.length - 1];
    if (!last || n === points.length - 1 || Math.hypot(p.x - last.x, p.y - last.y) >= step)
      kept.push({ x: Math.round(p.x * 10) / 10, y: Math.round(p.y * 10) / 10 });
  });
  return kept.slice(0, 5000);
}
