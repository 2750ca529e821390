import { readJson, route } from '@/server/http/guard';
import { idOf, momentOf } from '@/server/http/params';
import { startRender } from '@/server/renders/renders';

export const POST = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const id = await idOf(context);
  return Response.json({ id: await startRender(id, await readJson(request), momentOf(request.url)) }, { status: 201 });
});
