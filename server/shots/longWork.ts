import { Problem } from '../http/problem';
import type { Follow } from '../threads/pool';

interface LongWork {
  readonly name: string;
  share: number;
  look: WorkLook | null;
  readonly stop: AbortController;
}

/** What can be seen of long work already: a fill of a plate (null: the back plate). */
export interface WorkLook {
  readonly plate: string | null;
  readonly revision: string;
}

/** What is being worked on just now, by shot. In memory: what the server does not finish has changed nothing. */
const kept = globalThis as typeof globalThis & { corkWorks?: Map<string, LongWork> };
const works = (): Map<string, LongWork> => (kept.corkWorks ??= new Map<string, LongWork>());

/** What a shot's long work is called, the share that is done, and what can be seen of it; null where there is none. */
export function workOf(
  shot: string,
): { readonly name: string; readonly share: number; readonly look: WorkLook | null } | null {
  const work = works().get(shot);
  return work ? { name: work.name, share: work.share, look: work.look } : null;
}

export function stopWork(shot: string): void {
  works().get(shot)?.stop.abort();
}

/** What long work is done on, and what is being done to it. */
export interface Working {
  readonly shot: string;
  readonly name: string;
  /** As it is told: 'Cutting'. */
  readonly verb: string;
  /** The plate whose fill is made. @default none is */
  readonly plate?: string | null;
}

/** Runs long work on a shot, one at a time, with progress, stoppable. @throws Problem `busy`, `stopped`; what `run` throws */
export async function longWork<T>(
  { shot, name, verb, plate = null }: Working,
  run: (follow: Follow) => Promise<T>,
): Promise<T> {
  const before = works().get(shot);
  if (before) throw new Problem(409, 'busy', `${before.name} is still being worked on. Wait for it, or stop it.`);
  const work: LongWork = { name, share: 0, look: null, stop: new AbortController() };
  works().set(shot, work);
  const { signal } = work.stop;
  try {
    return await run({
      signal,
      onProgress: (share) => {
        work.share = share;
      },
      onLook: (revision) => {
        work.look = { plate, revision };
      },
    });
  } catch (error) {
    if (signal.aborted) throw new Problem(409, 'stopped', `${verb} ${name} was stopped, so nothing was changed.`);
    throw error;
  } finally {
    works().delete(shot);
  }
}
