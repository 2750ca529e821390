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

/** The back plate's depth map, or that of a plate, at full size as 16-bit grey PNG, values as stored. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const shot = await shotState(await idOf(context));
  const asked = z.uuid().nullable().parse(new URL(request.url).searchParams.get('plate'));
  const plate = asked === null ? undefined : plateOf(shot.document, asked);
  const revision = plate ? plate.depth.revision : shot.document.depth.revision;
  if (revision === null)
    throw new Problem(
      422,
      'not-cut',
      `${plate?.name ?? 'This plate'} is only planned and has no depth yet. Cut it first.`,
    );
  const em = await database();
  const png = await depthToPng(await readMap(em, await loadRevision(em, revision)));
  return new Response(new Uint8Array(png), {
    headers: {
      'content-type': 'image/png',
      'content-disposition': attachment(`${shot.name}${plate ? ` ${plate.name}` : ''} depth.png`),
      'x-size': String(png.length),
      'cache-control': 'no-store',
    },
  });
});
