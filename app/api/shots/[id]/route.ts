import { shotState } from '@/server/shots/history';
import { readJson, route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { listRenders } from '@/server/renders/renders';
import { changeEntry, changeSchema } from '@/server/shots/desk';

type Context = { params: Promise<{ id: string }> };

export const GET = route<Context>(async (_request, context) => {
  const id = await idOf(context);
  const [shot, renders] = await Promise.all([shotState(id), listRenders(id)]);
  return Response.json({ shot, renders }, { headers: { 'cache-control': 'no-store' } });
});

export const PATCH = route<Context>(async (request, context) => {
  await changeEntry('shot', await idOf(context), changeSchema.parse(await readJson(request)));
  return new Response(null, { status: 204 });
});
