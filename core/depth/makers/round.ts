import { z } from 'zod';
import { CoreError } from '../../error';
import type { KindOf } from '../../kind';
import { distanceTo } from '../../raster/distance';
import type { MakerGround } from './ground';

/** How a body rises from its edge: as a ball, quickly and then flat, or evenly. */
export const PROFILES = ['ball', 'pillow', 'tent'] as const;
type Profile = (typeof PROFILES)[number];

const schema = z.strictObject({
  kind: z.literal('round'),
  profile: z.enum(PROFILES),
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

/**
 * Rounds a plate, so that a cut-out gets a body: by how far each place lies from the edge of its matte (exact Euclidean distance). A ball's
 * profile is that of a ball, sqrt(1 - (1 - t)^2).
 */
export const round: KindOf<typeof schema, MakerGround, Float32Array> = {
  kind: 'round',
  schema,
  bounds: (_make, { width, height }) => ({ left: 0, top: 0, right: width, bottom: height }),
  apply: ({ depth, matte }, { profile, by, reach }) => {
    if (!matte)
      throw new CoreError(
        'no-plate',
        'Only a plate that was cut has an edge to be rounded from. Choose its card on the board.',
      );
    const far = distanceTo(matte);
    let most = 0;
    for (const v of far) if (v > most && v !== Infinity) most = v;
    // A matte that covers everything has no edge.
    const long = Math.max(1, most * reach);
    return Float32Array.from(depth.data, (v, i) => {
      const from = far[i] === Infinity ? 1 : Math.min(1, far[i] / long);
      return Math.min(1, Math.max(0, v / 65535 + by * profileAt(profile, from)));
    });
  },
  label: ({ by }) => (by < 0 ? 'Hollow out' : 'Round'),
  shift: (make) => make,
};
