import { route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { splitFootage } from '@/server/shots/splitFootage';

/** Makes a shot of every scene between the cuts that were found. */
export const POST = route<{ params: Promise<{ id: string }> }>(async (_request, context) =>
  Response.json({ ids: await splitFootage(await idOf(context)) }, { status: 201 }),
);
