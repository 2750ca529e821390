import { z } from 'zod';
import { CoreError } from '../../error';
import type { KindOf } from '../../kind';
import type { Mask } from '../../raster/picture';
import { moved, place } from '../edits/values';
import { overMap } from '../overMap';
import { tenths } from '../tenths';
import type { MakerGround } from './ground';
import { keptOutside, requireRegion, whereSchema } from './where';

const schema = z.strictObject({
  kind: z.literal('match'),
  where: whereSchema,
  /** The middle of a round part of the picture whose depth is taken over, and its diameter; full-size px. */
  like: z.strictObject({ x: place, y: place, size: z.number().min(1).max(4000) }),
  /** Its span of depth, too, and not only how deep it lies. */
  span: z.boolean(),
});

const inRegion =
  ({ data }: Mask) =>
  (i: number): boolean =>
    data[i] >= 128;

/**
 * Lays one region as deep as another: half of its pixels then lie before, and half behind, what half of the other's
 * do.
 */
export const match: KindOf<typeof schema, MakerGround, Float32Array> = {
  kind: 'match',
  schema,
  bounds: (_make, { width, height }) => ({ left: 0, top: 0, right: width, bottom: height }),
  apply: (ground, { where, like, span }) => {
    const { depth, scale } = ground;
    const region = requireRegion(ground, where);
    const radius = Math.max(0.75, (like.size / 2) * scale);
    const from = tenths(depth, inRegion(region));
    const to = tenths(depth, (i) => {
      const x = (i % depth.width) + 0.5 - like.x * scale;
      const y = Math.floor(i / depth.width) + 0.5 - like.y * scale;
      return x * x + y * y <= radius * radius;
    });
    if (!from || !to)
      throw new CoreError('nothing-to-match', 'What the region shall be matched with lies outside the picture.');
    const times = span && from[2] > from[0] ? (to[2] - to[0]) / (from[2] - from[0]) : 1;
    const made = overMap(depth, (v) => Math.min(1, Math.max(0, to[1] + (v - from[1]) * times)));
    return keptOutside(ground, region, made);
  },
  label: () => 'Match depths',
  shift: (make, dx, dy) => ({ ...make, like: moved(make.like, dx, dy) }),
};
