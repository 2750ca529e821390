import { database } from '@/server/db/orm';
import { query } from '@/server/db/query';
import { route } from '@/server/http/guard';

export const GET = route(async () => {
  await query(await database(), 'select 1');
  return Response.json({ ok: true });
});
