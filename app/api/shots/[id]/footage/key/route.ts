import { z } from 'zod';
import { changeRoute } from '@/server/http/change';
import { dropKey, setKey } from '@/server/shots/depthKeys';
import { keyPlate, PLATE_KEY_ACTIONS } from '@/server/shots/plateKeys';

const key = z.discriminatedUnion('of', [
  z.strictObject({ of: z.literal('depth'), action: z.enum(['set', 'drop']) }),
  z.strictObject({ of: z.literal('plate'), plate: z.uuid(), action: z.enum(PLATE_KEY_ACTIONS) }),
]);

/** Gives a frame depth of its own, or takes it away; the same of a plate, which may not be seen there either. */
export const POST = changeRoute({ key }, (at, { key: given }) => {
  if (given.of === 'plate') return keyPlate(at, given.plate, given.action);
  return given.action === 'set' ? setKey(at) : dropKey(at);
});
