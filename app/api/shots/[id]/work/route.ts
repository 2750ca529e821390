import { route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { workOf, stopWork } from '@/server/shots/longWork';

/** What long work is being done on a shot and how far it is; null where none is. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (_request, context) =>
  Response.json({ work: workOf(await idOf(context)) }, { headers: { 'cache-control': 'no-store' } }),
);

/** Stops it; its own request then says that nothing was changed. */
export const DELETE = route<{ params: Promise<{ id: string }> }>(async (_request, context) => {
  stopWork(await idOf(context));
  return new Response(null, { status: 204 });
});
