import { z } from 'zod';
import { route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { proxyOf } from '@/server/media/footage/proxies';
import { footageOf } from '@/server/shots/footageOf';
import { shotState } from '@/server/shots/history';
import { namedSource } from '@/server/shots/namedSource';

/** A frame as a small JPEG. What an address names never changes. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const state = await shotState(await idOf(context));
  const { footage } = footageOf(state);
  const source = namedSource(request.url, state);
  const frame = z.coerce
    .number()
    .int()
    .min(0)
    .max(footage.frames - 1)
    .parse(new URL(request.url).searchParams.get('frame'));
  const jpeg = await proxyOf(source, frame);
  return new Response(new Uint8Array(jpeg), {
    headers: { 'content-type': 'image/jpeg', 'cache-control': 'private, max-age=31536000, immutable' },
  });
});
