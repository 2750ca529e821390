import { z } from 'zod';
import { depthMakeSchema } from '@/core/depth/makers';
import { changeRoute } from '@/server/http/change';
import { makeDepth } from '@/server/shots/depth';

const shape = { plate: z.uuid().nullable().default(null), make: depthMakeSchema };

/** A whole depth map, made anew. */
export const POST = changeRoute(shape, (at, { make, plate }) => makeDepth(at, make, plate));
