import { z } from 'zod';
import type { KindOf } from '../../kind';
import { fastGlobalSmoother } from '../../raster/fastGlobalSmoother';
import { guidedFilter } from '../../raster/guidedFilter';
import type { Picture8 } from '../../raster/picture';
import { overMap } from '../overMap';
import type { MakerGround } from './ground';
import { keptOutside, regionOf, whereSchema } from './where';

const schema = z.strictObject({
  kind: z.literal('fit'),
  where: whereSchema,
  /** smoothed: smoothed but not over the picture's edges; guided: in each window a linear function of the colours. */
  by: z.enum(['smoothed', 'guided']).optional(),
  /** How far depth may be carried to an edge of the picture: so many full-size px, about. */
  reach: z.number().min(1).max(200),
  /** So large a difference of colour is an edge, 8-bit steps over three channels. */
  edge: z.number().min(1).max(60),
});

type Fitted = (depth: Float32Array, picture: Picture8, px: number, edge: number) => Float32Array;

/** Weighted least squares of strength lambda reach some sqrt(lambda) px. */
const smoothed: Fitted = (depth, { width, height, data }, px, edge) => {
  fastGlobalSmoother(depth, data, { width, height, sigma: edge, lambda: px ** 2, passes: 3 });
  return depth;
};

/** Windows whose colours vary by some third of an edge have their depth follow them. */
const guided: Fitted = (depth, picture, px, edge) =>
  guidedFilter(depth, picture, { radius: Math.max(1, Math.round(px)), epsilon: (edge / 3 / 255) ** 2 });

/** Fits a map to the picture's edges (core/raster/fastGlobalSmoother, core/raster/guidedFilter). */
export const fit: KindOf<typeof schema, MakerGround, Float32Array> = {
  kind: 'fit',
  schema,
  bounds: (_make, { width, height }) => ({ left: 0, top: 0, right: width, bottom: height }),
  apply: (ground, { where, by, reach, edge }) => {
    const { picture, depth, scale } = ground;
    const out = overMap(depth, (v) => v);
    const made =
      by === 'guided' ? guided(out, picture, reach * scale, edge) : smoothed(out, picture, reach * scale, edge);
    return keptOutside(ground, regionOf(ground, where), made);
  },
  label: () => 'Fit to the picture’s edges',
  shift: (make) => make,
};
