import { z } from 'zod';
import { changeRoute } from '@/server/http/change';
import { networkDepth } from '@/server/shots/depth';

const shape = {
  plate: z.uuid().nullable().default(null),
  network: z.string().min(1).max(255),
  edges: z.number().min(0).max(1).default(0.5),
};

/** A whole depth map by a network of the user's own. */
export const POST = changeRoute(shape, (at, { network, edges, plate }) =>
  networkDepth(at, { name: network, edges }, plate),
);
