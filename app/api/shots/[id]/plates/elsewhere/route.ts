import { route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { platesElsewhere } from '@/server/shots/platesElsewhere';

/** Plates of other shots that can be brought into this one. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (_request, context) =>
  Response.json({ shots: await platesElsewhere(await idOf(context)) }, { headers: { 'cache-control': 'no-store' } }),
);
