import { route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { receiveFile } from '@/server/media/upload';
import { bringIn } from '@/server/shots/bringIn';

export const POST = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const projectId = await idOf(context);
  const file = await receiveFile(request, { footage: true });
  try {
    return Response.json({ id: await bringIn(projectId, file.path, file.fileName) }, { status: 201 });
  } finally {
    await file.remove();
  }
});
