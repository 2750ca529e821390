import { z } from 'zod';

/** A depth map that is kept under a name beside the one that is worked on. */
export const keptDepthSchema = z.strictObject({
  id: z.uuid(),
  /** The plate whose map it is; null: the back plate's. */
  plate: z.uuid().nullable(),
  name: z.string().trim().min(1).max(60),
  revision: z.uuid(),
});
export type KeptDepth = z.infer<typeof keptDepthSchema>;

/** So many are kept. */
export const KEPT_DEPTHS = 24;

export const keptDepthsPart = { keptDepths: z.array(keptDepthSchema).max(KEPT_DEPTHS) } as const;
