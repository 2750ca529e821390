import { z } from 'zod';
import { route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { receiveFile } from '@/server/media/upload';
import { importPlates } from '@/server/shots/platesFiles';

const schema = z.strictObject({ expectedHead: z.coerce.number().int() });

/** Plates from a file: a picture, an OpenRaster, or a zip that was handed out here. */
export const POST = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const id = await idOf(context);
  const { expectedHead } = schema.parse(Object.fromEntries(new URL(request.url).searchParams));
  const file = await receiveFile(request, { zip: true });
  try {
    return Response.json(await importPlates(id, expectedHead, file.path, file.fileName, file.zip ? 'zip' : 'picture'));
  } finally {
    await file.remove();
  }
});
