import { z } from 'zod';
import type { KindOf } from '../../kind';
import { boxMean } from '../../raster/box';
import { distanceTo } from '../../raster/distance';
import { nearestSeed } from '../../raster/nearest';
import type { Mask } from '../../raster/picture';
import { overMap } from '../overMap';
import type { MakerGround } from './ground';
import { requireRegion, whereSchema } from './where';

const schema = z.strictObject({
  kind: z.literal('blend'),
  where: whereSchema,
  /** Over so many full-size px. */
  px: z.number().min(1).max(2000),
  /** outward: the region's depth fades into what surrounds it; inward: what surrounds it fades into the region. */
  side: z.enum(['outward', 'inward']),
});

/** Depth at the other side of an edge is evened along it over this part of the width. */
const EVENED = 1 / 4;

/** The depth of the nearest pixel of a side, everywhere; evened so that it is no bundle of rays. */
function continued({ depth }: MakerGround, region: Mask, inside: boolean, evened: number): Float32Array {
  const { width, height, data } = depth;
  const from = nearestSeed(width, height, (i) => region.data[i] >= 128 === inside);
  const plane = overMap(depth, (was, i) => (from[i] < 0 ? was : data[from[i]] / 65535));
  return evened < 1 ? plane : boxMean(plane, width, height, Math.round(evened));
}

/**
 * Lets the depth of a region and of what surrounds it run into each other over a width: at the edge both are the
 * same, and
 * there is no jump any more.
 */
export const blend: KindOf<typeof schema, MakerGround, Float32Array> = {
  kind: 'blend',
  schema,
  bounds: (_make, { width, height }) => ({ left: 0, top: 0, right: width, bottom: height }),
  apply: (ground, { where, px, side }) => {
    const region = requireRegion(ground, where);
    const long = Math.max(1, px * ground.scale);
    const outward = side === 'outward';
    // From the far side of the edge: half a px lies between it and the first pixel's middle.
    const far = distanceTo(region, outward);
    const meets = continued(ground, region, outward, long * EVENED);
    return overMap(ground.depth, (was, i) => {
      if (far[i] === 0) return was;
      const t = (far[i] - 0.5) / long;
      if (t >= 1) return was;
      return was + (1 - t * t * (3 - 2 * t)) * (meets[i] - was);
    });
  },
  label: ({ side }) => `Blend the edge ${side}`,
  shift: (make) => make,
};
