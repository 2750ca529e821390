import { shotState } from '@/server/shots/history';
import sharp from 'sharp';
import { z } from 'zod';
import { route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { plateOf } from '@/server/shots/plateList';
import { Problem } from '@/server/http/problem';
import { sourceRaster } from '@/server/media/decode';

const schema = z.strictObject({ plate: z.uuid(), media: z.uuid(), side: z.coerce.number().int().min(16).max(4096) });

/** A brought-in plate's own picture with alpha, not placed, its longest side at most `side` px. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const { document } = await shotState(await idOf(context));
  const { plate, media, side } = schema.parse(Object.fromEntries(new URL(request.url).searchParams));
  const { piece } = plateOf(document, plate);
  if (piece?.mediaId !== media) throw Problem.notFound('This plate’s own picture');
  const png = await sharp(await sourceRaster(piece), { limitInputPixels: false })
    .resize(side, side, { fit: 'inside', withoutEnlargement: true, kernel: 'cubic' })
    .toColourspace('srgb')
    .png({ compressionLevel: 1 })
    .toBuffer();
  return new Response(new Uint8Array(png), {
    headers: { 'content-type': 'image/png', 'cache-control': 'private, max-age=31536000, immutable' },
  });
});
