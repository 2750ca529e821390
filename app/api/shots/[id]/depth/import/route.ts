import { z } from 'zod';
import type { FloatMeaning } from '@/core/depth/distance';
import { changeOf } from '@/server/http/change';
import { route } from '@/server/http/guard';
import { receiveFile } from '@/server/media/upload';
import { importDepth } from '@/server/shots/depth';
import { once } from '@/server/shots/history';

const schema = z.object({
  near: z.enum(['white', 'black']),
  mend: z.enum(['yes', 'no']),
  plate: z.uuid().nullable().default(null),
  /**
   * What the numbers are of a file that holds floats; distances and their inverse with the nearest and the farthest.
   */
  values: z.enum(['depth', 'distance', 'inverse']).default('depth'),
  nearest: z.coerce.number().default(1),
  farthest: z.coerce.number().default(10),
});

/** A depth picture in place of a depth map. */
export const POST = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const at = await changeOf(request, context);
  const { near, mend, plate, values, nearest, farthest } = schema.parse(
    Object.fromEntries(new URL(request.url).searchParams),
  );
  const { path, fileName, remove } = await receiveFile(request, { floats: true });
  try {
    const floats: FloatMeaning =
      values === 'depth' ? { kind: 'depth' } : { kind: values, near: nearest, far: farthest };
    const file = { path, fileName, whiteIsNear: near === 'white', mend: mend === 'yes', floats };
    return Response.json(await once(at, () => importDepth(at, file, plate)));
  } finally {
    await remove();
  }
});
