import { changeOf } from '@/server/http/change';
import { route } from '@/server/http/guard';
import { receiveFile } from '@/server/media/upload';
import { pairDepth } from '@/server/shots/depth';
import { once } from '@/server/shots/history';

/** Depth of the back plate by a second photograph, taken a step to the right. */
export const POST = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const at = await changeOf(request, context);
  const { path, fileName, remove } = await receiveFile(request);
  try {
    return Response.json(await once(at, () => pairDepth(at, { path, fileName })));
  } finally {
    await remove();
  }
});
