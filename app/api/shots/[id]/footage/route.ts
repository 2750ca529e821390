import { route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { proxyState } from '@/server/media/footage/proxies';
import { footageOf } from '@/server/shots/footageOf';
import { shotState } from '@/server/shots/history';

/** How far the small pictures of a shot's frames are, and where it seems to cut. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (_request, context) => {
  const { source } = footageOf(await shotState(await idOf(context)));
  return Response.json(await proxyState(source), { headers: { 'cache-control': 'no-store' } });
});
