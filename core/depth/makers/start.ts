import { z } from 'zod';
import type { KindOf } from '../../kind';
import { cuesSchema } from '../start/cues';
import { CUES } from '../start/generateStart';
import { startOf, type MakerGround } from './ground';

const schema = z.strictObject({
  kind: z.literal('start'),
  cues: cuesSchema,
  /** One cue by itself, to be looked at. @default all together */
  alone: z.enum(CUES).optional(),
});

/** A start, read off the picture. */
export const start: KindOf<typeof schema, MakerGround, Float32Array> = {
  kind: 'start',
  schema,
  bounds: (_make, { width, height }) => ({ left: 0, top: 0, right: width, bottom: height }),
  apply: ({ picture }, { cues, alone }) => (alone ? startOf(picture).cue(alone, cues) : startOf(picture).depth(cues)),
  label: () => 'A start from cues',
  shift: (make) => make,
};
