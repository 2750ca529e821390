import { z } from 'zod';
import type { KindOf } from '../../kind';
import { distanceTo } from '../../raster/distance';
import type { Mask } from '../../raster/picture';
import { overMap } from '../overMap';
import type { MakerGround } from './ground';
import { requireRegion, whereSchema } from './where';

/** How a body rises from its edge: as a ball, quickly and then flat, or evenly. */
export const PROFILES = ['ball', 'pillow', 'tent'] as const;
type Profile = (typeof PROFILES)[number];

/** Rounded all around, as a ball; or only across or down, as a column or a lying trunk. */
export const ROUND_ALONG = ['all', 'across', 'down'] as const;
type Along = (typeof ROUND_ALONG)[number];

const schema = z.strictObject({
  kind: z.literal('round'),
  where: whereSchema,
  profile: z.enum(PROFILES),
  along: z.enum(ROUND_ALONG).optional(),
  /** How much nearer the body is where it is thickest, of depth; below 0 it is hollow. */
  by: z.number().min(-1).max(1),
  /** It has risen so far from its edge, of half its greatest thickness. */
  reach: z.number().min(0.02).max(1),
});

/** Height of a profile, 0 at the edge to 1. @param t share of the way from the edge, 0 to 1 */
export function profileAt(profile: Profile, t: number): number {
  if (t >= 1) return 1;
  if (profile === 'ball') return Math.sqrt(1 - (1 - t) ** 2);
  // Halfway between the two a smooth step.
  return profile === 'tent' ? t : t * t * (3 - 2 * t);
}

/** How far each pixel lies from the edge, of the way to where the body is thickest; 0 outside. */
function shareOfWay(region: Mask, along: Along): Float32Array {
  if (along !== 'all') return shareOfRuns(region, along);
  const far = distanceTo(region);
  let most = 0;
  for (const v of far) if (v > most && v !== Infinity) most = v;
  // A matte that covers everything has no edge.
  return far.map((v) => (v === Infinity ? 1 : v / Math.max(1, most)));
}

/** The same along rows or columns: each run of the region is as thick as it is long. */
function shareOfRuns({ width, height, data }: Mask, along: 'across' | 'down'): Float32Array {
  const out = new Float32Array(data.length);
  const [lines, count, line, step] = along === 'across' ? [height, width, width, 1] : [width, height, 1, width];
  for (let n = 0; n < lines; n++) {
    let begin = -1;
    for (let k = 0; k <= count; k++) {
      const inside = k < count && data[n * line + k * step] >= 128;
      if (inside && begin < 0) begin = k;
      if (inside || begin < 0) continue;
      const half = (k - begin) / 2;
      for (let m = begin; m < k; m++) out[n * line + m * step] = Math.min(m + 0.5 - begin, k - m - 0.5) / half;
      begin = -1;
    }
  }
  return out;
}

/**
 * Rounds a region, so that a cut-out gets a body: by how far each place lies from its edge (exact Euclidean distance,
 * or along rows or
 * columns). A ball's profile is that of a ball, sqrt(1 - (1 - t)^2).
 */
export const round: KindOf<typeof schema, MakerGround, Float32Array> = {
  kind: 'round',
  schema,
  bounds: (_make, { width, height }) => ({ left: 0, top: 0, right: width, bottom: height }),
  apply: (ground, { where, profile, along = 'all', by, reach }) => {
    const region = requireRegion(ground, where);
    const share = shareOfWay(region, along);
    return overMap(ground.depth, (v, i) => {
      if (where?.kind === 'chosen' && region.data[i] < 128) return v;
      return Math.min(1, Math.max(0, v + by * profileAt(profile, Math.min(1, share[i] / reach))));
    });
  },
  label: ({ by }) => (by < 0 ? 'Hollow out' : 'Round'),
  shift: (make) => make,
};
