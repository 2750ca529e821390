import { z } from 'zod';
import type { KindOf } from '../../kind';
import { moved, place } from '../edits/values';
import { findSpikes, flattenSpikes } from '../spikes';
import type { MakerGround } from './ground';

const schema = z.strictObject({
  kind: z.literal('flatten'),
  /** What stands out by so much of depth ... */
  by: z.number().min(0.01).max(1),
  /** ... and is so narrow at most, full-size px; */
  wide: z.number().min(1).max(64),
  /** only what lies so near to these places, full-size px. @default all of them */
  at: z
    .array(z.strictObject({ x: place, y: place }))
    .max(200)
    .optional(),
});

/** A spike belongs to a place that lies within so many full-size px of it. */
const NEAR = 12;

/** Lays spikes flat: what stands out in depth but not in the picture. */
export const flatten: KindOf<typeof schema, MakerGround, Float32Array> = {
  kind: 'flatten',
  schema,
  bounds: (_make, { width, height }) => ({ left: 0, top: 0, right: width, bottom: height }),
  apply: ({ depth, picture, scale }, { by, wide, at }) => {
    const narrow = Math.max(1, wide * scale);
    const near = (i: number): boolean =>
      at!.some(
        (p) =>
          Math.hypot((i % depth.width) + 0.5 - p.x * scale, Math.floor(i / depth.width) + 0.5 - p.y * scale) <=
          NEAR * scale,
      );
    const spikes = findSpikes(depth, picture, { by, wide: narrow });
    return flattenSpikes(depth, at ? spikes.filter(({ pixels }) => pixels.some(near)) : spikes, narrow);
  },
  label: ({ at }) => (at?.length === 1 ? 'Flatten a spike' : 'Flatten spikes'),
  shift: (make, dx, dy) => (make.at ? { ...make, at: make.at.map((p) => moved(p, dx, dy)) } : make),
};
