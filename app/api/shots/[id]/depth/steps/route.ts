import { z } from 'zod';
import { route } from '@/server/http/guard';
import { idOf, momentOf } from '@/server/http/params';
import { depthSteps } from '@/server/shots/depthHistory';

/** The steps that changed the back plate's depth map, or a plate's. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const plate = z.uuid().nullable().parse(new URL(request.url).searchParams.get('plate'));
  const steps = await depthSteps(await idOf(context), plate, momentOf(request.url));
  return Response.json({ steps }, { headers: { 'cache-control': 'no-store' } });
});
