import { z } from 'zod';
import { changeRoute } from '@/server/http/change';
import { moveInHistory } from '@/server/shots/history';

const shape = { action: z.enum(['undo', 'redo']) };

export const POST = changeRoute(shape, (at, { action }) => moveInHistory(at, action));
