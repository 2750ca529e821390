import { z } from 'zod';
import { route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { carryBehind, CARRIES, carryShot } from '@/server/shots/carryShot';

/** Carries what keys hold, or what lies behind plates, to all frames; answers when it is done, stopped or refused. */
export const POST = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const id = await idOf(context);
  const what = z.enum(CARRIES).parse(new URL(request.url).searchParams.get('what') ?? 'keys');
  return Response.json(await (what === 'behind' ? carryBehind(id) : carryShot(id)));
});
