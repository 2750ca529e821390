import { z } from 'zod';
import { readJson, route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { actOnPlates, plateActionSchema } from '@/server/shots/plates';

const schema = z.strictObject({ expectedHead: z.number().int(), act: plateActionSchema });

export const POST = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const id = await idOf(context);
  const { expectedHead, act } = schema.parse(await readJson(request));
  return Response.json(await actOnPlates(id, expectedHead, act));
});
