import { z } from 'zod';
import { documentPatchSchema } from '@/core/shot/document';
import { changeRoute } from '@/server/http/change';
import { changeDocument } from '@/server/shots/shots';

const shape = { label: z.string().min(1).max(120), patch: documentPatchSchema };

export const POST = changeRoute(shape, (at, { label, patch }) => changeDocument(at, label, patch));
