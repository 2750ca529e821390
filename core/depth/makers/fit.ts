import { z } from 'zod';
import type { KindOf } from '../../kind';
import { fastGlobalSmoother } from '../../raster/fastGlobalSmoother';
import type { MakerGround } from './ground';

const schema = z.strictObject({
  kind: z.literal('fit'),
  /** How far depth may be carried to an edge of the picture: so many full-size px, about. */
  reach: z.number().min(1).max(200),
  /** So large a difference of colour is an edge, 8-bit steps over three channels. */
  edge: z.number().min(1).max(60),
});

/** Fits a map to the picture's edges: it is smoothed, but not over them (core/raster/fastGlobalSmoother). */
export const fit: KindOf<typeof schema, MakerGround, Float32Array> = {
  kind: 'fit',
  schema,
  bounds: (_make, { width, height }) => ({ left: 0, top: 0, right: width, bottom: height }),
  apply: ({ picture, depth, scale }, { reach, edge }) => {
    const { width, height } = picture;
    const out = Float32Array.from(depth.data, (v) => v / 65535);
    // Weighted least squares of strength lambda reach some sqrt(lambda) px.
    fastGlobalSmoother(out, picture.data, { width, height, sigma: edge, lambda: (reach * scale) ** 2, passes: 3 });
    return out;
  },
  label: () => 'Fit to the picture’s edges',
  shift: (make) => make,
};
