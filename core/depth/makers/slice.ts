import { z } from 'zod';
import type { KindOf } from '../../kind';
import { depthValue } from '../edits/values';
import { overMap } from '../overMap';
import type { MakerGround } from './ground';
import { keptOutside, regionOf, whereSchema } from './where';

const schema = z
  .strictObject({
    kind: z.literal('slice'),
    where: whereSchema,
    /** Everything between two depths ... */
    from: depthValue,
    to: depthValue,
    /** ... moves nearer by so much, ... */
    by: z.number().min(-1).max(1),
    /** ... is stretched so many times around its middle, ... */
    times: z.number().min(0).max(4),
    /** ... and what lies so near to it, of depth, follows, less and less. */
    soft: z.number().min(0).max(0.5),
  })
  .refine(({ from, to }) => to > from, 'A depth slice goes from a farther depth to a nearer one.');

/** Moves and stretches everything between two depths. */
export const slice: KindOf<typeof schema, MakerGround, Float32Array> = {
  kind: 'slice',
  schema,
  bounds: (_make, { width, height }) => ({ left: 0, top: 0, right: width, bottom: height }),
  apply: (ground, { where, from, to, by, times, soft }) => {
    const middle = (from + to) / 2;
    const table = Float32Array.from({ length: 65536 }, (_, v) => {
      const d = v / 65535;
      const beyond = Math.max(from - d, d - to, 0);
      if (beyond > 0 && beyond >= soft) return d;
      const t = beyond > 0 ? 1 - beyond / soft : 1;
      const share = t * t * (3 - 2 * t);
      const moved = middle + (d - middle) * times + by;
      return Math.min(1, Math.max(0, d + share * (moved - d)));
    });
    const { data } = ground.depth;
    const made = overMap(ground.depth, (_v, i) => table[data[i]]);
    return keptOutside(ground, regionOf(ground, where), made);
  },
  label: ({ from, to }) => `Slice ${from.toFixed(2)} to ${to.toFixed(2)}`,
  shift: (make) => make,
};
