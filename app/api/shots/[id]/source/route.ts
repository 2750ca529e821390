import { shotState } from '@/server/shots/history';
import { downloadMedia } from '@/server/http/download';
import { route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';

/** The source file as it came, byte for byte. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const {
    document: { source, frame },
  } = await shotState(await idOf(context));
  return downloadMedia(request, frame?.mediaId ?? source.mediaId, source.fileName);
});
