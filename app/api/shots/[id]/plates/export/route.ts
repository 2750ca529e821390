import { PLATES_EXPORTS } from '@/server/threads/handOut';
import { z } from 'zod';
import { attachment } from '@/server/http/download';
import { route } from '@/server/http/guard';
import { idOf, momentOf } from '@/server/http/params';
import { exportPlates } from '@/server/shots/platesFiles';

/** All plates, of a film at a frame, in one file: a zip of the plates folder, the same trimmed, or an OpenRaster. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const form = z.enum(PLATES_EXPORTS).parse(new URL(request.url).searchParams.get('form'));
  const { body, name, mime } = await exportPlates(await idOf(context), form, momentOf(request.url));
  return new Response(body, {
    headers: { 'content-type': mime, 'content-disposition': attachment(name), 'cache-control': 'no-store' },
  });
});
