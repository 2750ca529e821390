import { z } from 'zod';
import { database } from '@/server/db/orm';
import { changeRoute } from '@/server/http/change';
import { route } from '@/server/http/guard';
import { idOf, windowOf } from '@/server/http/params';
import { paintedWindow } from '@/server/rasters/pictures';
import { loadRevision } from '@/server/rasters/revisions';
import { isCarried } from '@/server/shots/carriedRasters';
import { shotState } from '@/server/shots/history';
import { inThread } from '@/server/threads/pool';
import { fillActionSchema } from '@/server/shots/fillActions';
import { actOnFill } from '@/server/shots/fills';

/** A window of what was filled in, as PNG with straight alpha. A revision never changes. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const id = await idOf(context);
  const name = new URL(request.url).searchParams.get('revision') ?? '';
  if (isCarried(name)) {
    const { width, height } = (await shotState(id)).document.source;
    const window = windowOf(request.url, { width, height });
    const order = { name, size: { width, height }, window };
    return png((await inThread('carriedColours', order, { quickOn: id })).png);
  }
  const em = await database();
  const revision = await loadRevision(em, z.uuid().parse(name));
  const window = windowOf(request.url, { width: revision.width / 4, height: revision.height });
  return png(await paintedWindow(em, revision, window));
});

const png = (bytes: Uint8Array): Response =>
  new Response(new Uint8Array(bytes), {
    headers: { 'content-type': 'image/png', 'cache-control': 'private, max-age=31536000, immutable' },
  });

export const POST = changeRoute({ act: fillActionSchema }, (at, { act }) => actOnFill(at, act));
