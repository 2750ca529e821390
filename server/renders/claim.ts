import { database } from '../db/orm';
import { query } from '../db/query';

/** A render whose worker has not been heard of for this long is taken up by another, ms. */
export const STALE_MS = 15_000;

/** Makes this worker the render's own, if it waits or its worker has fallen silent. False where there is nothing to do. */
export async function claim(renderId: string, worker: string): Promise<boolean> {
  const em = await database();
  const rows = await query<unknown>(
    em,
    `update render set state = 'running', worker = $1, heartbeat_at = now(), started_at = now(), step = 'Beginning', error = null
     where id = $2 and (state = 'queued'
       or (state = 'running' and (worker = $1 or heartbeat_at < now() - make_interval(secs => $3)))) returning id`,
    [worker, renderId, STALE_MS / 1000],
  );
  return rows.length > 0;
}

/** Says that the worker lives and how far it is. Returns what the render's people want of it. */
export async function beat(
  renderId: string,
  worker: string,
  progress: number,
  step: string,
): Promise<'go on' | 'stop' | 'not mine'> {
  const em = await database();
  const rows = await query<{ stop_requested: boolean }>(
    em,
    `update render set heartbeat_at = now(), progress = $1, step = $2
     where id = $3 and worker = $4 and state = 'running' returning stop_requested`,
    [progress, step, renderId, worker],
  );
  if (rows.length === 0) return 'not mine';
  return rows[0].stop_requested ? 'stop' : 'go on';
}

/** Renders that wait without a job, or whose worker has fallen silent: ids to queue again. */
export async function lostRenders(): Promise<string[]> {
  const em = await database();
  const rows = await query<{ id: string }>(
    em,
    `select id from render where (state = 'running' and heartbeat_at < now() - make_interval(secs => $1))
       or (state = 'queued' and created_at < now() - interval '1 minute')`,
    [STALE_MS / 1000],
  );
  return rows.map((r) => r.id);
}
