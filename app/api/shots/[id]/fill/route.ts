import { z } from 'zod';
import { database } from '@/server/db/orm';
import { changeRoute } from '@/server/http/change';
import { route } from '@/server/http/guard';
import { idOf, windowOf } from '@/server/http/params';
import { paintedWindow } from '@/server/rasters/pictures';
import { loadRevision } from '@/server/rasters/revisions';
import { fillActionSchema } from '@/server/shots/fillActions';
import { actOnFill } from '@/server/shots/fills';

/** A window of what was filled in, as PNG with straight alpha. A revision never changes. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  await idOf(context);
  const em = await database();
  const revision = await loadRevision(em, z.uuid().parse(new URL(request.url).searchParams.get('revision')));
  const window = windowOf(request.url, { width: revision.width / 4, height: revision.height });
  const png = await paintedWindow(em, revision, window);
  return new Response(new Uint8Array(png), {
    headers: { 'content-type': 'image/png', 'cache-control': 'private, max-age=31536000, immutable' },
  });
});

export const POST = changeRoute({ act: fillActionSchema }, (at, { act }) => actOnFill(at, act));
