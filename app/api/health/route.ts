import { database } from '@/server/db/orm';
import { route } from '@/server/http/guard';

export const GET = route(async () => {
  await (await database()).execute('select 1');
  return Response.json({ ok: true });
});
