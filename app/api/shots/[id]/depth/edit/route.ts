import { z } from 'zod';
import { depthEditSchema } from '@/core/depth/edits';
import { changeRoute } from '@/server/http/change';
import { editDepth } from '@/server/shots/depth';

const shape = {
  plate: z.uuid().nullable().default(null),
  behind: z.boolean().default(false),
  edit: depthEditSchema,
};

export const POST = changeRoute(shape, (at, { edit, plate, behind }) => editDepth(at, edit, { plate, behind }));
