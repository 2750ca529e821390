import { join } from 'node:path';
import { MessageChannel } from 'node:worker_threads';
import Piscina from 'piscina';
import { Problem } from '../http/problem';
import type { Refused } from './task';

type Tasks = typeof import('./index');
type OrderOf<Name extends keyof Tasks> = Omit<Parameters<Tasks[Name]>[0], 'told'>;
type MadeOf<Name extends keyof Tasks> = Exclude<Awaited<ReturnType<Tasks[Name]>>, Refused>;

/** How long work is followed and ended. */
export interface Follow {
  onProgress(share: number): void;
  readonly signal: AbortSignal;
}

const kept = globalThis as typeof globalThis & { corkThreads?: Piscina };

/** The threads' code is bundled into .build by scripts/build.mjs. They keep their connections to the database while they live. */
const threads = (): Piscina =>
  (kept.corkThreads ??= new Piscina({
    filename: join(process.cwd(), '.build/threads.mjs'),
    env: { ...process.env },
    minThreads: 0,
    maxThreads: 2,
    idleTimeout: 60_000,
  }));

/** Ends all threads; the next work starts new ones. */
export async function endThreads(): Promise<void> {
  const pool = kept.corkThreads;
  delete kept.corkThreads;
  await pool?.destroy();
}

/** Runs work in a thread of its own, so that the server answers meanwhile. @throws Problem what the work refuses */
export async function inThread<Name extends keyof Tasks>(
  name: Name,
  order: OrderOf<Name>,
  follow?: Follow,
): Promise<MadeOf<Name>> {
  const { port1, port2 } = new MessageChannel();
  port1.on('message', (share: number) => follow?.onProgress(share));
  try {
    const made = (await threads().run(
      { ...order, told: port2 },
      { name, signal: follow?.signal, transferList: [port2] },
    )) as MadeOf<Name> | Refused;
    if (!('refused' in made)) return made;
    const { status, code, message } = made.refused;
    throw new Problem(status, code, message);
  } finally {
    port1.close();
  }
}
