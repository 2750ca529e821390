import { widened } from '@/core/raster/bits';
import type { DepthMap } from '@/core/raster/picture';
import type { ShotDocument } from '@/core/shot/document';
import { loadRevision, readMap } from '@/server/rasters/revisions';
import { isCarried, matteMap } from '@/server/shots/carriedRasters';
import { shotState } from '@/server/shots/history';
import { z } from 'zod';
import { database } from '@/server/db/orm';
import { attachment } from '@/server/http/download';
import { route } from '@/server/http/guard';
import { idOf, momentOf } from '@/server/http/params';
import { Problem } from '@/server/http/problem';
import { depthToPng } from '@/server/media/depthFile';
import { plateOf } from '@/server/shots/plateList';

/** A plate's matte at full size, of a film at a frame, as 16-bit grey PNG: white covers. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const { document, name } = await shotState(await idOf(context), momentOf(request.url));
  const plate = plateOf(document, z.uuid().parse(new URL(request.url).searchParams.get('plate')));
  if (plate.matte === null)
    throw new Problem(422, 'not-cut', `${plate.name} is only planned and has no matte yet. Cut it first.`);
  const png = await depthToPng(await storedOrCarried(plate.matte, document.source));
  return new Response(new Uint8Array(png), {
    headers: {
      'content-type': 'image/png',
      'content-disposition': attachment(`${name} ${plate.name} matte.png`),
      'x-size': String(png.length),
      'cache-control': 'no-store',
    },
  });
});

/** A stored matte has 16 bits, a carried one 8. */
async function storedOrCarried(matte: string, source: ShotDocument['source']): Promise<DepthMap> {
  if (isCarried(matte)) {
    const { width, height, data } = await matteMap(matte, source);
    return { width, height, data: widened(data) };
  }
  const em = await database();
  return readMap(em, await loadRevision(em, matte));
}
