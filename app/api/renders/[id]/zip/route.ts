import { Readable } from 'node:stream';
import { ZipFile } from 'yazl';
import { attachment } from '@/server/http/download';
import { route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { Problem } from '@/server/http/problem';
import { readMedia } from '@/server/media/store';
import { renderOutputs } from '@/server/renders/renders';

/** All files of a render in one zip, stored as they are (pictures do not shrink) and streamed. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (_request, context) => {
  const outputs = await renderOutputs(await idOf(context));
  if (outputs.length === 0) throw Problem.notFound('Files of this render');
  const zip = new ZipFile();
  for (const o of outputs)
    zip.addReadStreamLazy(o.name, { compress: false, size: o.size }, (ready) => {
      ready(null, readMedia(o.mediaId, 0, o.size));
    });
  zip.end();
  const first = outputs[0].name.replace(/\.[^.]+$/, '').replace(/_\d+$/, 's');
  return new Response(Readable.toWeb(zip.outputStream as Readable) as ReadableStream, {
    headers: {
      'content-type': 'application/zip',
      'content-disposition': attachment(`${first}.zip`),
      'cache-control': 'private, no-cache',
    },
  });
});
