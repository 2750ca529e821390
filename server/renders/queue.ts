import PgBoss from 'pg-boss';
import { databaseUrl } from '../config';

export const RENDER_JOBS = 'render';

const kept = globalThis as typeof globalThis & { corkBoss?: Promise<PgBoss> };

/** The queue as the web server uses it: sends only. */
export function sender(): Promise<PgBoss> {
  kept.corkBoss ??= openQueue(false).catch((error: unknown) => {
    kept.corkBoss = undefined;
    throw error;
  });
  return kept.corkBoss;
}

/** Opens the queue; a worker also supervises it (expires and removes old jobs). */
export async function openQueue(worker: boolean): Promise<PgBoss> {
  const boss = new PgBoss({ connectionString: databaseUrl(), supervise: worker, schedule: false, max: worker ? 4 : 2 });
  boss.on('error', (error) => console.error(`queue: ${error.message}`));
  await boss.start();
  await boss.createQueue(RENDER_JOBS);
  return boss;
}

export async function enqueue(boss: PgBoss, renderId: string): Promise<void> {
  // A job only says "look at this render"; the render's row says what is to be done and who has it. So jobs may be sent twice.
  await boss.send(RENDER_JOBS, { renderId }, { retryLimit: 2, expireInSeconds: 4 * 3600 });
}
