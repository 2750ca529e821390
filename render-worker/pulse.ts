import { parentPort, workerData } from 'node:worker_threads';
import { openOrm } from '@/server/db/orm';
import { beat } from '@/server/renders/claim';
import { WANTED, type PulseData } from './wanted';

// Beats for a render from a thread of its own: what computes in the worker's main thread does not hold the beat up.

const EVERY_MS = 1000;
const { renderId, worker, state } = workerData as PulseData;
let progress = 0;
let step = 'Beginning';
let beating = false;

/** Tells the database how far the render is, and the main thread what its people want. */
async function pulse(): Promise<void> {
  if (beating) return;
  beating = true;
  try {
    const wanted = await beat(renderId, worker, progress, step);
    Atomics.store(state, 0, WANTED.indexOf(wanted));
  } catch {
    // The database is away just now: the next beat tries again.
  } finally {
    beating = false;
  }
}

const timer = setInterval(() => void pulse(), EVERY_MS);
parentPort!.on('message', (news: { progress: number; step: string } | 'end') => {
  if (news === 'end') {
    clearInterval(timer);
    parentPort!.close();
    void openOrm().then((orm) => orm.close());
    return;
  }
  const fresh = news.step !== step;
  ({ progress, step } = news);
  if (fresh) void pulse();
});
void pulse();
