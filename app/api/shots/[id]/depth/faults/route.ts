import { z } from 'zod';
import { route } from '@/server/http/guard';
import { idOf, momentOf } from '@/server/http/params';
import { faultsOfDepth } from '@/server/shots/depth';

/** What shows in glasses of the back plate's depth map, or a plate's. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const plate = z.uuid().nullable().parse(new URL(request.url).searchParams.get('plate'));
  const faults = await faultsOfDepth(await idOf(context), plate, momentOf(request.url));
  return Response.json({ faults }, { headers: { 'cache-control': 'no-store' } });
});
