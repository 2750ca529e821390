import { z } from 'zod';
import { changeRoute } from '@/server/http/change';
import { route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { borderSchema, coverage, extendBorder } from '@/server/shots/border';

/** How far the views run out of picture at the frame's edges. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const views = z.coerce
    .number()
    .int()
    .min(2)
    .max(200)
    .parse(new URL(request.url).searchParams.get('views') ?? '2');
  return Response.json(await coverage(await idOf(context), views), { headers: { 'cache-control': 'no-store' } });
});

/** Extends the canvas. */
export const POST = changeRoute({ border: borderSchema }, (at, { border }) => extendBorder(at, border));
