import { z } from 'zod';
import { keptDepthSchema } from '@/core/shot/document';
import { changeRoute } from '@/server/http/change';
import { dropDepth, keepDepth, takeDepth } from '@/server/shots/depthHistory';

const { plate, name, revision, id: kept } = keptDepthSchema.shape;
const shape = {
  act: z.discriminatedUnion('action', [
    z.strictObject({ action: z.literal('keep'), plate, name }),
    z.strictObject({ action: z.literal('drop'), kept }),
    z.strictObject({ action: z.literal('take'), plate, revision }),
  ]),
};

/** Keeps a depth map under a name, drops a kept one, or takes an earlier one up again. */
export const POST = changeRoute(shape, (at, { act }) => {
  switch (act.action) {
    case 'keep':
      return keepDepth(at, act.plate, act.name);
    case 'drop':
      return dropDepth(at, act.kept);
    case 'take':
      return takeDepth(at, act.plate, act.revision);
  }
});
