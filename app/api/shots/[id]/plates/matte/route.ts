import { loadRevision, readMap } from '@/server/rasters/revisions';
import { shotState } from '@/server/shots/history';
import { z } from 'zod';
import { database } from '@/server/db/orm';
import { attachment } from '@/server/http/download';
import { route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { Problem } from '@/server/http/problem';
import { depthToPng } from '@/server/media/depthFile';
import { plateOf } from '@/server/shots/plateList';

/** A plate's matte at full size as 16-bit grey PNG: white covers. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const shot = await shotState(await idOf(context));
  const plate = plateOf(shot.document, z.uuid().parse(new URL(request.url).searchParams.get('plate')));
  if (plate.matte === null)
    throw new Problem(422, 'not-cut', `${plate.name} is only planned and has no matte yet. Cut it first.`);
  const em = await database();
  const png = await depthToPng(await readMap(em, await loadRevision(em, plate.matte)));
  return new Response(new Uint8Array(png), {
    headers: {
      'content-type': 'image/png',
      'content-disposition': attachment(`${shot.name} ${plate.name} matte.png`),
      'x-size': String(png.length),
      'cache-control': 'no-store',
    },
  });
});
