import { depthEditSchema } from '@/core/depth/edits';
import { z } from 'zod';
import { readJson, route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { editDepth } from '@/server/shots/shots';

const schema = z.strictObject({
  expectedHead: z.number().int(),
  plate: z.uuid().nullable().default(null),
  behind: z.boolean().default(false),
  edit: depthEditSchema,
});

export const POST = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const id = await idOf(context);
  const { expectedHead, plate, behind, edit } = schema.parse(await readJson(request));
  return Response.json(await editDepth(id, expectedHead, edit, plate, behind));
});
