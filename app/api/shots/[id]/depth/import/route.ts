import { z } from 'zod';
import { route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { fitDepth, readDepthFile } from '@/server/media/depthFile';
import { receiveFile } from '@/server/media/upload';
import { replaceDepth, shotState } from '@/server/shots/shots';

const schema = z.strictObject({
  expectedHead: z.coerce.number().int(),
  near: z.enum(['white', 'black']),
  smooth: z.enum(['yes', 'no']),
  plate: z.uuid().nullable().default(null),
});

export const POST = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const id = await idOf(context);
  const { expectedHead, near, smooth, plate } = schema.parse(Object.fromEntries(new URL(request.url).searchParams));
  const file = await receiveFile(request);
  try {
    const map = await readDepthFile(file.path, file.fileName, {
      whiteIsNear: near === 'white',
      smooth: smooth === 'yes',
    });
    const {
      document: { source },
    } = await shotState(id);
    return Response.json(
      await replaceDepth(id, expectedHead, `Depth from ${file.fileName}`, fitDepth(map, source, file.fileName), plate),
    );
  } finally {
    await file.remove();
  }
});
