import { z } from 'zod';
import { clipRect, rectAround } from '../../raster/geometry';
import { drawOutline } from '../outline';
import { moved, point, way, type IngredientKind } from './ground';

const schema = z.strictObject({ kind: z.literal('trace'), way, points: z.array(point).min(3).max(20000) });

/** The way that an edge trace found, closed. */
export const trace: IngredientKind<typeof schema> = {
  kind: 'trace',
  schema,
  bounds: ({ points }, { width, height }) => clipRect(rectAround(points), width, height),
  apply: ({ picture, here }, { points }) => drawOutline(picture.width, picture.height, points.map(here)),
  label: () => 'edge trace',
  shift: (value, dx, dy) => ({ ...value, points: value.points.map((p) => moved(p, dx, dy)) }),
};
