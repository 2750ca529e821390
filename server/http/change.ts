import { z } from 'zod';
import { MOST_FOOTAGE } from '@/core/shot/document';
import type { ShotAt, ShotState } from '../shots/history';
import { once } from '../shots/history';
import { readJson, route } from './guard';
import { idOf } from './params';

type Context = { params: Promise<{ id: string }> };

/** What every change says beside itself: the head that it builds on, its own id, and of footage its frame. */
const moment = z.coerce.number().int().min(0).max(MOST_FOOTAGE).optional();
const changeFields = { expectedHead: z.number().int(), changeId: z.uuid().optional(), moment };
const changeQuery = z.object({ expectedHead: z.coerce.number().int(), changeId: z.uuid().optional(), moment });
type Fields = z.infer<typeof changeQuery>;

const shotAt = (id: string, { expectedHead, changeId, moment: frame }: Fields): ShotAt => ({
  id,
  expectedHead,
  ...(changeId ? { changeId } : {}),
  ...(frame === undefined ? {} : { moment: frame }),
});

/** A route that changes a shot: the body is validated, and a change that is sent again is made once. */
export function changeRoute<Shape extends z.ZodRawShape>(
  shape: Shape,
  work: (at: ShotAt, given: z.infer<z.ZodObject<Shape>>) => Promise<ShotState>,
) {
  const schema = z.strictObject({ ...changeFields, ...shape });
  return route<Context>(async (request, context) => {
    const id = await idOf(context);
    const { expectedHead, changeId, moment: frame, ...given } = schema.parse(await readJson(request)) as Fields;
    const at = shotAt(id, { expectedHead, changeId, moment: frame });
    const made = await once(at, () => work(at, given as unknown as z.infer<z.ZodObject<Shape>>));
    // Packing a small answer takes longer than the stroke that it answers.
    return Response.json(made, { headers: { 'cache-control': 'no-store, no-transform' } });
  });
}

/** What a change that comes with a file says in its address. */
export async function changeOf(request: Request, context: Context): Promise<ShotAt> {
  const id = await idOf(context);
  const query = Object.fromEntries(new URL(request.url).searchParams);
  return shotAt(id, changeQuery.parse(query));
}
