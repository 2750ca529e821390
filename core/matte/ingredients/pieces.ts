import { z } from 'zod';
import { clipRect, rectAround } from '../../raster/geometry';
import { drawRings } from '../outline';
import { moved, point, way, type IngredientKind } from './ground';

const ring = z.array(point).min(3).max(20000);
const schema = z.strictObject({ kind: z.literal('pieces'), way, rings: z.array(ring).min(1).max(3000) });

/** Pieces that were proposed and taken, as rings (even-odd). */
export const pieces: IngredientKind<typeof schema> = {
  kind: 'pieces',
  schema,
  bounds: ({ rings }, { width, height }) => clipRect(rectAround(rings.flat()), width, height),
  apply: ({ picture, here }, { rings }) =>
    drawRings(
      picture.width,
      picture.height,
      rings.map((corners) => corners.map(here)),
    ),
  label: () => 'pieces',
  shift: (value, dx, dy) => ({
    ...value,
    rings: value.rings.map((corners) => corners.map((p) => moved(p, dx, dy))),
  }),
};
