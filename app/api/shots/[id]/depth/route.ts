import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import { z } from 'zod';
import { database } from '@/server/db/orm';
import { route } from '@/server/http/guard';
import { idOf, windowOf } from '@/server/http/params';
import { readReduced, readReducedMatte } from '@/server/rasters/pyramid';
import { loadRevision } from '@/server/rasters/revisions';
import { isCarried } from '@/server/shots/carriedRasters';
import { shotState } from '@/server/shots/history';
import { inThread } from '@/server/threads/pool';

const zip = promisify(gzip);

/**
 * A window of one revision of a depth map (or, asked for so, of a matte) as raw 16-bit values, little-endian, in a
 * gzip that the page unpacks itself (a content-encoding header would not pass). A revision never changes.
 */
export const GET = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const id = await idOf(context);
  const query = new URL(request.url).searchParams;
  const name = query.get('revision') ?? '';
  const asMatte = query.get('as') === 'matte';
  if (isCarried(name)) {
    const { source } = (await shotState(id)).document;
    const window = windowOf(request.url, source);
    const { width, height } = source;
    const order = { name, size: { width, height }, window, what: asMatte ? ('matte' as const) : ('depth' as const) };
    return packed((await inThread('carriedWindow', order, { quickOn: id })).data);
  }
  const revisionId = z.uuid().parse(name);
  const em = await database();
  const revision = await loadRevision(em, revisionId);
  const window = windowOf(request.url, revision);
  const data = asMatte ? await readReducedMatte(em, revision, window) : (await readReduced(em, revision, window)).data;
  return packed(data);
});

async function packed(data: Uint16Array): Promise<Response> {
  const body = await zip(Buffer.from(data.buffer, data.byteOffset, data.byteLength), { level: 1 });
  return new Response(new Uint8Array(body), {
    headers: { 'content-type': 'application/gzip', 'cache-control': 'private, max-age=31536000, immutable' },
  });
}
