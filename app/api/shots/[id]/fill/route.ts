import sharp from 'sharp';
import { z } from 'zod';
import { database } from '@/server/db/orm';
import { readJson, route } from '@/server/http/guard';
import { idOf, windowOf } from '@/server/http/params';
import { eightBits, readPictureWindow } from '@/server/rasters/pictures';
import { loadRevision } from '@/server/rasters/tiles';
import { actOnFill, fillActionSchema } from '@/server/shots/fills';

/** A window of what was filled in, as PNG with straight alpha. A revision never changes. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  await idOf(context);
  const em = await database();
  const revision = await loadRevision(em, z.uuid().parse(new URL(request.url).searchParams.get('revision')));
  const window = windowOf(request.url, { width: revision.width / 4, height: revision.height });
  const { width, height, data } = eightBits(await readPictureWindow(em, revision, window));
  const png = await sharp(data, { raw: { width, height, channels: 4 } })
    .resize(window.width, window.height, { fit: 'fill', kernel: 'cubic' })
    .png({ compressionLevel: 1 })
    .toBuffer();
  return new Response(new Uint8Array(png), {
    headers: { 'content-type': 'image/png', 'cache-control': 'private, max-age=31536000, immutable' },
  });
});

const schema = z.strictObject({ expectedHead: z.number().int(), act: fillActionSchema });

export const POST = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const id = await idOf(context);
  const { expectedHead, act } = schema.parse(await readJson(request));
  return Response.json(await actOnFill(id, expectedHead, act));
});
