import { randomUUID } from 'node:crypto';
import { hostname } from 'node:os';
import { setImmediate as breath } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import type PgBoss from 'pg-boss';
import { Render } from '@/server/db/entities';
import { database, openOrm } from '@/server/db/orm';
import { asProblem, isConnectionTrouble } from '@/server/http/problem';
import { claim, lostRenders } from '@/server/renders/claim';
import { needsHelp, releasePieces } from '@/server/renders/pieces';
import { enqueue, openQueue, RENDER_JOBS } from '@/server/renders/queue';
import { Interrupted, runRender } from '@/server/renders/run';
import { HelpEnded } from '@/server/renders/videoShop';
import { Heart } from './heart';

// Takes renders from the queue, one at a time, and helps others with the pieces of theirs. Start as many as there are
// machines: they need the database's address (CORK_DATABASE_URL) and nothing else.

const me = `${hostname()}:${process.pid}:${randomUUID().slice(0, 8)}`;
/** The beating thread's code, bundled beside this. */
const PULSE = fileURLToPath(new URL('./pulse.mjs', import.meta.url));

async function take(boss: PgBoss, renderId: string): Promise<void> {
  if (!(await claim(renderId, me))) {
    if (await needsHelp(renderId)) await help(renderId);
    return;
  }
  const em = await database();
  const render = await em.findOneOrFail(Render, { id: renderId });
  const heart = new Heart(renderId, me, PULSE);
  let failure: unknown;
  try {
    await runRender(
      render,
      async (progress, step) => {
        heart.tell(progress, step);
        // Lets the beating thread's word through.
        await breath();
        if (heart.wanted !== 'go on') throw new Interrupted(heart.wanted);
      },
      {
        worker: me,
        helping: false,
        invite: async (count) => {
          for (let n = 0; n < count; n++) await enqueue(boss, renderId);
        },
      },
    );
    console.log(`render ${renderId} done`);
  } catch (error) {
    failure = error;
  }
  await heart.stop();
  if (failure !== undefined) await end(boss, renderId, failure, heart.wanted);
}

/** Makes pieces of another worker's render. What goes wrong with one here is tried again, and said, by that worker. */
async function help(renderId: string): Promise<void> {
  const em = await database();
  const render = await em.findOneOrFail(Render, { id: renderId });
  const nothing = (): Promise<void> => Promise.resolve();
  try {
    await runRender(render, nothing, { worker: me, helping: true, invite: nothing });
    console.log(`render ${renderId} helped with`);
  } catch (error) {
    if (!(error instanceof HelpEnded)) console.error(error);
    await releasePieces(renderId, me).catch(nothing);
  }
}

async function end(boss: PgBoss, renderId: string, error: unknown, wanted: string): Promise<void> {
  if (error instanceof Interrupted) {
    if (wanted === 'stop')
      await (
        await database()
      ).nativeUpdate(
        Render,
        { id: renderId, worker: me },
        { state: 'stopped', step: 'Stopped', finishedAt: new Date() },
      );
    return;
  }
  if (isConnectionTrouble(error)) {
    // The database went away: the render keeps its state, falls silent, and is taken up again when all is back.
    console.error(`render ${renderId}: the database went away; it will be taken up again`);
    return;
  }
  console.error(error);
  const { message } = asProblem(error);
  await (
    await database()
  ).nativeUpdate(
    Render,
    { id: renderId, worker: me },
    { state: 'failed', step: 'Failed', error: message, finishedAt: new Date() },
  );
}

async function main(): Promise<void> {
  await openOrm();
  const boss = await openQueue(true);
  await boss.work<{ renderId: string }>(RENDER_JOBS, { batchSize: 1, pollingIntervalSeconds: 0.5 }, async ([job]) => {
    await take(boss, job.data.renderId);
  });
  const rescue = setInterval(
    () =>
      void lostRenders()
        .then((ids) => Promise.all(ids.map((id) => enqueue(boss, id))))
        .catch(() => undefined),
    5000,
  );
  let stopping = false;
  const stop = (): void => {
    if (stopping) return;
    stopping = true;
    clearInterval(rescue);
    setTimeout(() => process.exit(0), 4000).unref();
    // A render in work is left as it is: its heartbeat ends and the next worker goes on with it.
    void boss.stop({ graceful: false, timeout: 1000 }).finally(() => process.exit(0));
  };
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
  console.log(`render worker ${me} ready`);
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
