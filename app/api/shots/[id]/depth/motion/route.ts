import { changeRoute } from '@/server/http/change';
import { depthByMotion } from '@/server/shots/depth';

/** A first depth of a film's frame, read off the camera's own motion. */
export const POST = changeRoute({}, (at) => depthByMotion(at));
