import { readJson, route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { changeEntry, changeSchema } from '@/server/shots/desk';

export const PATCH = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  await changeEntry('project', await idOf(context), changeSchema.parse(await readJson(request)));
  return new Response(null, { status: 204 });
});
