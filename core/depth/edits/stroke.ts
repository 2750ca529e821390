import { z } from 'zod';
import type { KindOf } from '../../kind';
import { clipRect, type Rect } from '../../raster/geometry';
import { BRUSH_MODES, BrushRoom, BrushStroke, strokeBounds } from '../brush';
import { rectInWindow, type DepthWindow } from '../window';
import { depthValue, place, moved } from './values';

const schema = z.strictObject({
  kind: z.literal('stroke'),
  mode: z.enum(BRUSH_MODES),
  depth: depthValue,
  size: z.number().min(1).max(4000),
  hardness: z.number().min(0).max(1),
  strength: z.number().min(0.01).max(1),
  pressure: z.enum(['none', 'strength', 'size']),
  edge: z.number().min(0).max(765).optional(),
  grain: z.number().min(2).max(2000).optional(),
  points: z
    .array(z.strictObject({ x: place, y: place, pressure: z.number().min(0).max(1) }))
    .min(1)
    .max(20000),
});

const LABELS = {
  nearer: 'Paint nearer',
  farther: 'Paint farther',
  smooth: 'Smooth depth',
  push: 'Push depth',
  uneven: 'Make depth uneven',
} as const;

/** Strokes that come whole are painted one after another. */
const room = new BrushRoom();

/** Paints; what the brush keeps beside the window is no larger than the stroke. */
function paint(window: DepthWindow, edit: z.infer<typeof schema>): Rect | undefined {
  const part = rectInWindow(strokeBounds(edit, edit.points), window);
  return part && new BrushStroke(window, edit, { part, room }).add(edit.points);
}

/** A stroke of the depth brush. */
export const stroke: KindOf<typeof schema, DepthWindow, Rect | undefined> = {
  kind: 'stroke',
  schema,
  bounds: (edit, { width, height }) => clipRect(strokeBounds(edit, edit.points), width, height),
  apply: paint,
  label: ({ mode, depth }) => {
    if (mode === 'set') return `Set depth ${depth.toFixed(2)}`;
    return LABELS[mode];
  },
  shift: (edit, dx, dy) => ({ ...edit, points: edit.points.map((p) => moved(p, dx, dy)) }),
};
