import type { Point } from '@/core/raster/geometry';
import type { RoomCore } from '../../room/core';
import { thinned, tenths } from '../../viewer/tool';
import type { CutSlice } from './slice';

/** The room as choosing sees it. */
export type CutRoom = RoomCore & CutSlice;

/** Adds a stroke of region paint: strokes belong to one ingredient as long as nothing else was chosen after it. */
export function addRegionStroke(s: CutRoom, points: readonly Point[]): void {
  const { side, size, byDepth } = s.region;
  const last = s.choice.ingredients[s.choice.ingredients.length - 1];
  const stroke = { side, size, points: thinned(points, size / 4) };
  if (last?.kind === 'region') s.choose({ ...last, strokes: [...last.strokes, stroke] }, true);
  else s.choose({ kind: 'region', way: s.joining, strokes: [stroke], byDepth });
}

/** Gives the depth map a say in region paint, or none, also after the strokes. */
export function heedDepth(s: CutRoom, byDepth: boolean): void {
  s.set({ region: { ...s.region, byDepth } });
  const last = s.choice.ingredients[s.choice.ingredients.length - 1];
  if (last?.kind === 'region') s.choose({ ...last, byDepth }, true);
}

/** Widens the band over hair and leaves; where no band is solved yet, one begins. */
export function addHairStroke(s: CutRoom, points: readonly Point[]): void {
  const { edge } = s.choice;
  const stroke = { size: s.hairSize, points: thinned(points, s.hairSize / 4) };
  s.set({
    choice: { ...s.choice, edge: { ...edge, solvePx: edge.solvePx || 4, unsure: [...edge.unsure, stroke] } },
  });
}

/** Adds a flood from the place that was clicked. */
export function addFlood(s: CutRoom, at: Point): void {
  s.choose({ kind: 'flood', way: s.joining, ...tenths(at), ...s.flood });
}

/** Changes the last flood's tolerance and reach after the click. */
export function changeFlood(s: CutRoom, flood: CutSlice['flood']): void {
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
  const chord = Math.acos(Math.max(0, 1 - 0.1 / Math.max(1, Math.abs(rx), Math.abs(ry))));
  const n = Math.min(720, Math.max(12, Math.ceil(Math.PI / chord)));
  return Array.from({ length: n }, (_, k) => ({
    x: a.x + rx + rx * Math.cos((2 * Math.PI * k) / n),
    y: a.y + ry + ry * Math.sin((2 * Math.PI * k) / n),
  }));
}

/** The ingredient that is changed by its corners: the chosen one, or the last. */
export const editedAt = ({ editing, choice }: CutRoom): number => editing ?? choice.ingredients.length - 1;
