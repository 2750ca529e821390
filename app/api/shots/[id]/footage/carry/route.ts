import { route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { carryShot } from '@/server/shots/depthKeys';

/** Carries depth from the key frames to all others; answers when it is done, stopped or refused. */
export const POST = route<{ params: Promise<{ id: string }> }>(async (_request, context) =>
  Response.json(await carryShot(await idOf(context))),
);
