import { join } from 'node:path';
import { setFlagsFromString } from 'node:v8';
import { MessageChannel } from 'node:worker_threads';
import Piscina from 'piscina';
import { bundlesDir } from '../config';
import { Problem } from '../http/problem';
import type { Refused, Told } from './task';

type Tasks = typeof import('./index');
type OrderOf<Name extends keyof Tasks> = Omit<Parameters<Tasks[Name]>[0], 'progress'>;
type MadeOf<Name extends keyof Tasks> = Exclude<Awaited<ReturnType<Tasks[Name]>>, Refused>;

/** How work is followed and ended. */
export interface Follow {
  onProgress(share: number): void;
  /** A picture that is stored already shows how far it is. @default nobody looks */
  onLook?(revision: string): void;
  readonly signal: AbortSignal;
}

interface How {
  /** @default nobody follows it */
  readonly follow?: Follow;
  /**
   * What takes a moment, and must not wait for what is long, names what it works on: work on the same goes to the same
   * thread, which keeps
   * the tiles that it has just had.
   * @default it takes seconds or more, and as much memory: two at a time
   */
  readonly quickOn?: string;
}

const LONG = { minThreads: 0, maxThreads: 2, concurrentTasksPerWorker: 1 };
/** While some work in it waits for the database, the rest goes on; a thread that slept meanwhile would stop it. */
const QUICK = { minThreads: 1, maxThreads: 1, concurrentTasksPerWorker: 8, atomics: 'disabled' } as const;
const QUICK_THREADS = 2;

const kept = globalThis as typeof globalThis & { corkThreads?: Map<string, Piscina> };

/**
 * The threads' code is bundled into .build by scripts/build.mjs. They keep their connections to the database while
 * they live.
 */
function threads(name: string, sort: typeof LONG | typeof QUICK): Piscina {
  const pools = (kept.corkThreads ??= new Map<string, Piscina>());
  let pool = pools.get(name);
  if (!pool) {
    const filename = join(bundlesDir(), 'threads.mjs');
    pool = new Piscina({ filename, env: { ...process.env }, idleTimeout: 60_000, ...sort });
    pools.set(name, pool);
  }
  return pool;
}

const longThreads = (): Piscina => threads('long', LONG);
const quickThread = (n: number): Piscina => threads(`quick ${n}`, QUICK);

const hashOf = (text: string): number => [...text].reduce((hash, c) => (hash * 31 + c.charCodeAt(0)) | 0, 0) >>> 0;

/**
 * The least of memory that a quick thread may fill before V8 looks through all of it for what is no longer used, MB.
 * What it paints are
 * arrays of 128 KB around a small heap: left to itself V8 looked through that heap every second or so, which took a
 * quarter of all computing while many people painted.
 */
const QUICK_HEAP_MB = 200;

/** Starts the threads for what takes a moment, so that the first stroke does not wait for them. */
export async function wakeThreads(): Promise<void> {
  // A thread's heap is laid out by what holds when it starts; there is no such option for one thread alone.
  setFlagsFromString(`--initial-heap-size=${QUICK_HEAP_MB}`);
  try {
    for (let n = 0; n < QUICK_THREADS; n++) await quickThread(n).run({}, { name: 'wake' });
  } finally {
    setFlagsFromString('--initial-heap-size=0');
  }
}

/** Ends all threads; the next work starts new ones. */
export async function endThreads(): Promise<void> {
  const pools = kept.corkThreads;
  delete kept.corkThreads;
  await Promise.all([...(pools?.values() ?? [])].map((pool) => pool.destroy()));
}

/** Runs work in a thread of its own, so that the server answers meanwhile. @throws Problem what the work refuses */
export async function inThread<Name extends keyof Tasks>(
  name: Name,
  order: OrderOf<Name>,
  { follow, quickOn }: How = {},
): Promise<MadeOf<Name>> {
  const channel = follow && new MessageChannel();
  channel?.port1.on('message', (message: Told) => {
    if ('look' in message) follow?.onLook?.(message.look);
    else follow?.onProgress(message.share);
  });
  try {
    const pool = quickOn === undefined ? longThreads() : quickThread(hashOf(quickOn) % QUICK_THREADS);
    const made = (await pool.run(
      { ...order, progress: channel?.port2 },
      { name, signal: follow?.signal, transferList: channel ? [channel.port2] : [] },
    )) as MadeOf<Name> | Refused;
    if (!('refused' in made)) return made;
    const { status, code, message, more } = made.refused;
    throw new Problem(status, code, message, more);
  } finally {
    channel?.port1.close();
  }
}
