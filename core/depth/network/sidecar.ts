import { z } from 'zod';

const side = z.number().int().min(16).max(2048);
const three = z.tuple([z.number(), z.number(), z.number()]);

/** Largest input that is computed, px. */
const MOST_PIXELS = 4_000_000;

/**
 * What the small file beside a depth network says of it: how a picture is put in, and what the numbers mean that come
 * out.
 */
export const sidecarSchema = z
  .strictObject({
    /** The picture is made this large, px, whatever its proportions. */
    width: side,
    height: side,
    /** Colours go in as (value - mean) / std, value from 0 to 1, in sRGB as they are stored. */
    mean: three.default([0, 0, 0]),
    std: three.refine((s) => s.every((v) => v > 0), 'each of the three must be above 0').default([1, 1, 1]),
    channels: z.enum(['rgb', 'bgr']).default('rgb'),
    /** Channel by channel, or pixel by pixel. */
    layout: z.enum(['nchw', 'nhwc']).default('nchw'),
    /** nearness: larger is nearer, as one over a distance; distance: larger is farther. */
    says: z.enum(['nearness', 'distance']),
    /** It is ended after this long. */
    seconds: z.number().min(1).max(3600).default(120),
  })
  .refine(({ width, height }) => width * height <= MOST_PIXELS, 'width times height must stay below 4 000 000 px');
export type Sidecar = z.infer<typeof sidecarSchema>;

/** What a person can begin with. */
export const SIDECAR_EXAMPLE = '{"width": 512, "height": 512, "says": "nearness"}';

/** The dimensions that a network gets. */
export const inputDims = ({ width, height, layout }: Sidecar): number[] =>
  layout === 'nchw' ? [1, 3, height, width] : [1, height, width, 3];
