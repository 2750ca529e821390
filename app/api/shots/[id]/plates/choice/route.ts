import { z } from 'zod';
import { database } from '@/server/db/orm';
import { route } from '@/server/http/guard';
import { idOf, momentOf } from '@/server/http/params';
import { Problem } from '@/server/http/problem';
import { loadChoice } from '@/server/shots/choices';
import { shotState } from '@/server/shots/history';
import { plateOf } from '@/server/shots/plateList';

/** How a plate was chosen, of a film at a frame that is a key of it. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const { document } = await shotState(await idOf(context), momentOf(request.url));
  const asked = z.uuid().parse(new URL(request.url).searchParams.get('plate'));
  const plate = plateOf(document, asked);
  if (plate.choice === null)
    throw new Problem(422, 'no-choice', `It is not known how ${plate.name} was chosen here. Choose it anew.`);
  return Response.json(await loadChoice(await database(), plate.choice), { headers: { 'cache-control': 'no-store' } });
});
