import { changeRoute } from '@/server/http/change';
import { actOnPlates, plateActionSchema } from '@/server/shots/plates';

export const POST = changeRoute({ act: plateActionSchema }, (at, { act }) => actOnPlates(at, act));
