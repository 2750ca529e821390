import { z } from 'zod';
import type { KindOf } from '../../kind';
import { clipRect, growRect, rectAround, type Rect } from '../../raster/geometry';
import { applyPolygon } from '../polygon';
import type { DepthWindow } from '../window';
import { depthValue, place, moved } from './values';

const schema = z.strictObject({
  kind: z.literal('polygon'),
  points: z
    .array(z.strictObject({ x: place, y: place }))
    .min(3)
    .max(5000),
  depth: depthValue,
});

/** An outline filled with one depth. */
export const polygon: KindOf<typeof schema, DepthWindow, Rect | undefined> = {
  kind: 'polygon',
  schema,
  bounds: (edit, { width, height }) => clipRect(growRect(rectAround(edit.points), 1), width, height),
  apply: applyPolygon,
  label: ({ depth }) => `Fill outline with ${depth.toFixed(2)}`,
  shift: (edit, dx, dy) => ({ ...edit, points: edit.points.map((p) => moved(p, dx, dy)) }),
};
