import { z } from 'zod';
import type { KindOf } from '../../kind';
import { depthValue } from '../edits/values';
import type { MakerGround } from './ground';
import { keptOutside, regionOf, whereSchema } from './where';

const schema = z.strictObject({ kind: z.literal('level'), where: whereSchema, depth: depthValue });

/** One depth for all of a region. */
export const level: KindOf<typeof schema, MakerGround, Float32Array> = {
  kind: 'level',
  schema,
  bounds: (_make, { width, height }) => ({ left: 0, top: 0, right: width, bottom: height }),
  apply: (ground, { where, depth }) =>
    keptOutside(ground, regionOf(ground, where), new Float32Array(ground.depth.data.length).fill(depth)),
  label: ({ depth }) => `Fill with ${depth.toFixed(2)}`,
  shift: (make) => make,
};
