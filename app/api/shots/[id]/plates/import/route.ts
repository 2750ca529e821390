import { changeOf } from '@/server/http/change';
import { route } from '@/server/http/guard';
import { receiveFile } from '@/server/media/upload';
import { once } from '@/server/shots/history';
import { importPlates } from '@/server/shots/platesFiles';

/** Plates from a file: a picture, an OpenRaster, or a zip that was handed out here. */
export const POST = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const at = await changeOf(request, context);
  const file = await receiveFile(request, { zip: true });
  try {
    return Response.json(await once(at, () => importPlates(at, file)));
  } finally {
    await file.remove();
  }
});
