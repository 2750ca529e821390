import { z } from 'zod';
import { changeOf } from '@/server/http/change';
import { route } from '@/server/http/guard';
import { receiveFile } from '@/server/media/upload';
import { importDepth } from '@/server/shots/depth';
import { once } from '@/server/shots/history';

const schema = z.object({
  near: z.enum(['white', 'black']),
  mend: z.enum(['yes', 'no']),
  plate: z.uuid().nullable().default(null),
});

/** A depth picture in place of a depth map. */
export const POST = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const at = await changeOf(request, context);
  const { near, mend, plate } = schema.parse(Object.fromEntries(new URL(request.url).searchParams));
  const { path, fileName, remove } = await receiveFile(request);
  try {
    const file = { path, fileName, whiteIsNear: near === 'white', mend: mend === 'yes' };
    return Response.json(await once(at, () => importDepth(at, file, plate)));
  } finally {
    await remove();
  }
});
