import { z } from 'zod';
import type { KindOf } from '../../kind';
import { leafNoise } from '../leafNoise';
import { overMap } from '../overMap';
import type { MakerGround } from './ground';
import { keptOutside, regionOf, whereSchema } from './where';

const schema = z.strictObject({
  kind: z.literal('uneven'),
  where: whereSchema,
  /** The largest change, of depth. */
  by: z.number().min(0).max(1),
  /** How far apart bumps lie, full-size px. */
  grain: z.number().min(2).max(2000),
  /** Another number gives other bumps. */
  seed: z.number().int().min(0).max(1e6),
});

/** Makes depth uneven, as foliage is. */
export const uneven: KindOf<typeof schema, MakerGround, Float32Array> = {
  kind: 'uneven',
  schema,
  bounds: (_make, { width, height }) => ({ left: 0, top: 0, right: width, bottom: height }),
  apply: (ground, { where, by, grain, seed }) => {
    const { depth, scale } = ground;
    const made = overMap(depth, (v, i) => {
      const x = ((i % depth.width) + 0.5) / scale;
      const y = (Math.floor(i / depth.width) + 0.5) / scale;
      return Math.min(1, Math.max(0, v + by * leafNoise(x, y, grain, seed)));
    });
    return keptOutside(ground, regionOf(ground, where), made);
  },
  label: () => 'Make uneven',
  shift: (make) => make,
};
