import { downloadMedia } from '@/server/http/download';
import { route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { Problem } from '@/server/http/problem';
import { renderOutputs } from '@/server/renders/renders';

export const GET = route<{ params: Promise<{ id: string; n: string }> }>(async (request, context) => {
  const { n } = await context.params;
  const output = (await renderOutputs(await idOf(context))).find((o) => String(o.n) === n);
  if (!output) throw Problem.notFound('This file');
  return downloadMedia(request, output.mediaId, output.name);
});
