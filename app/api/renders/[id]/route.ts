import { z } from 'zod';
import { readJson, route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { actOnRender } from '@/server/renders/renders';

const schema = z.strictObject({ action: z.enum(['stop', 'retry', 'remove']) });

export const POST = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const id = await idOf(context);
  await actOnRender(id, schema.parse(await readJson(request)).action);
  return new Response(null, { status: 204 });
});
