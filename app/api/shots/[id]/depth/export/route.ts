import { database } from '@/server/db/orm';
import { attachment } from '@/server/http/download';
import { route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { depthToPng } from '@/server/media/depthFile';
import { loadRevision, readMap } from '@/server/rasters/tiles';
import { shotState } from '@/server/shots/shots';

/** The depth map at full size as 16-bit grey PNG, values as stored. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (_request, context) => {
  const shot = await shotState(await idOf(context));
  const em = await database();
  const png = await depthToPng(await readMap(em, await loadRevision(em, shot.document.depth.revision)));
  return new Response(new Uint8Array(png), { headers: { 'content-type': 'image/png', 'content-disposition': attachment(`${shot.name} depth.png`), 'x-size': String(png.length), 'cache-control': 'no-store' } });
});
