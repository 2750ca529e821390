import { z } from 'zod';
import { documentPatchSchema } from '@/core/shot/document';
import { readJson, route } from '@/server/http/guard';
import { idOf } from '@/server/http/params';
import { changeDocument } from '@/server/shots/shots';

const schema = z.strictObject({
  expectedHead: z.number().int(),
  label: z.string().min(1).max(120),
  patch: documentPatchSchema,
});

export const POST = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const id = await idOf(context);
  const { expectedHead, label, patch } = schema.parse(await readJson(request));
  return Response.json(await changeDocument(id, expectedHead, label, patch));
});
