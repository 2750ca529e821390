import { route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { readyToFill } from '@/server/shots/fills';

/** A fill will be asked for soon: what it takes anyway is done beforehand. Changes nothing. */
export const POST = route<{ params: Promise<{ id: string }> }>(async (_request, context) => {
  await readyToFill(await idOf(context));
  return new Response(null, { status: 204 });
});
