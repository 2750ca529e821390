import { z } from 'zod';
import { readJson, route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { moveInHistory } from '@/server/shots/shots';

const schema = z.strictObject({ expectedHead: z.number().int(), action: z.enum(['undo', 'redo']) });

export const POST = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const id = await idOf(context);
  const { expectedHead, action } = schema.parse(await readJson(request));
  return Response.json(await moveInHistory(id, expectedHead, action));
});
