import { z } from 'zod';
import { clipRect, rectAround } from '../../raster/geometry';
import { drawOutline } from '../outline';
import { moved, point, way, type IngredientKind } from './ground';

const schema = z.strictObject({ kind: z.literal('outline'), way, points: z.array(point).min(3).max(5000) });

/** A closed outline of corners. */
export const outline: IngredientKind<typeof schema> = {
  kind: 'outline',
  schema,
  bounds: ({ points }, { width, height }) => clipRect(rectAround(points), width, height),
  apply: ({ picture, here }, { points }) => drawOutline(picture.width, picture.height, points.map(here)),
  label: () => 'outline',
  shift: (value, dx, dy) => ({ ...value, points: value.points.map((p) => moved(p, dx, dy)) }),
};
