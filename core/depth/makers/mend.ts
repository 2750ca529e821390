import { z } from 'zod';
import type { KindOf } from '../../kind';
import { mendDepth } from '../mendDepth';
import { overMap } from '../overMap';
import { removeSpecks } from '../specks';
import type { MakerGround } from './ground';

const schema = z.strictObject({ kind: z.literal('mend') });

/**
 * Mends what a map lacks, as when it is brought in: terraces of 8 bits, softened edges, places that say nothing; and
 * lone specks.
 */
export const mend: KindOf<typeof schema, MakerGround, Float32Array> = {
  kind: 'mend',
  schema,
  bounds: (_make, { width, height }) => ({ left: 0, top: 0, right: width, bottom: height }),
  apply: ({ depth }) => overMap(removeSpecks(mendDepth(depth, true).map), (v) => v),
  label: () => 'Mend the map',
  shift: (make) => make,
};
