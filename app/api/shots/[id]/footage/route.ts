import { route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { footageState } from '@/server/shots/footageState';

/** How far the small pictures of a shot's frames are, where it seems to cut, and how far its depth is carried. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (_request, context) =>
  Response.json(await footageState(await idOf(context)), { headers: { 'cache-control': 'no-store' } }),
);
