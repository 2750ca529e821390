import { z } from 'zod';
import type { KindOf } from '../../kind';
import { depthValue } from '../edits/values';
import { remapTable } from '../remapTable';
import type { MakerGround } from './ground';

const schema = z.strictObject({
  kind: z.literal('remap'),
  /** Beads of the curve, from far to near: depth in, depth out. What lies beyond the first and the last takes their depth. */
  beads: z
    .array(z.strictObject({ from: depthValue, to: depthValue }))
    .min(2)
    .max(16)
    .refine(
      (beads) => beads.every((b, n) => n === 0 || b.from > beads[n - 1].from),
      'The beads of a curve must lie one after another, from far to near.',
    ),
  /** Near and far change places. */
  invert: z.boolean(),
});

/** Depth in to depth out, along a curve. */
export const remap: KindOf<typeof schema, MakerGround, Float32Array> = {
  kind: 'remap',
  schema,
  bounds: (_make, { width, height }) => ({ left: 0, top: 0, right: width, bottom: height }),
  apply: ({ depth: { data } }, { beads, invert }) => {
    const table = remapTable(beads, invert);
    const out = new Float32Array(data.length);
    for (let i = 0; i < out.length; i++) out[i] = table[data[i]];
    return out;
  },
  label: ({ invert }) => (invert ? 'Remap, near and far changed' : 'Remap'),
  shift: (make) => make,
};
