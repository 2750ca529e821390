import { z } from 'zod';
import type { KindOf } from '../../kind';
import type { Rect } from '../../raster/geometry';
import { applyRamp, RAMP_SHAPES } from '../ramp';
import type { DepthWindow } from '../window';
import { depthValue, place, moved } from './values';

const end = z.strictObject({ x: place, y: place, depth: depthValue });
const schema = z.strictObject({
  kind: z.literal('ramp'),
  from: end,
  to: end,
  shape: z.enum(RAMP_SHAPES).optional(),
  reach: z.enum(['everywhere', 'between']),
  against: z.enum(['replace', 'nearer', 'farther']),
});

/** Depth rising along a line. */
export const ramp: KindOf<typeof schema, DepthWindow, Rect | undefined> = {
  kind: 'ramp',
  schema,
  bounds: (_edit, { width, height }) => ({ left: 0, top: 0, right: width, bottom: height }),
  apply: applyRamp,
  label: ({ from, to }) => `Ramp ${from.depth.toFixed(2)} to ${to.depth.toFixed(2)}`,
  shift: (edit, dx, dy) => ({ ...edit, from: moved(edit.from, dx, dy), to: moved(edit.to, dx, dy) }),
};
