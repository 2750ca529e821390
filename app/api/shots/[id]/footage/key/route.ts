import { z } from 'zod';
import { changeRoute } from '@/server/http/change';
import { dropKey, setKey } from '@/server/shots/depthKeys';

/** Gives a frame depth of its own, or takes it away. */
export const POST = changeRoute({ action: z.enum(['set', 'drop']) }, (at, { action }) =>
  action === 'set' ? setKey(at) : dropKey(at),
);
