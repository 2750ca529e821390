import type { ShotRasters } from '@/core/shot/rasters';
import { join } from 'node:path';
import { MessageChannel } from 'node:worker_threads';
import Piscina from 'piscina';
import { CoreError } from '@/core/error';
import type { Picture } from '@/core/raster/picture';
import type { CutOrder, CutResult, Refusal } from './cut';
import type { ExtendOrder, ExtendResult } from './extend';
import type { FillOrder, FillResult } from './fill';
import type { LayOutOrder } from './layOut';

const kept = globalThis as typeof globalThis & { corkThreads?: Piscina };

/** The threads' code is bundled into .build by scripts/build.mjs. */
const threads = (): Piscina =>
  (kept.corkThreads ??= new Piscina({
    filename: join(process.cwd(), '.build/threads.mjs'),
    minThreads: 0,
    maxThreads: 2,
    idleTimeout: 20_000,
  }));

/** Runs long work in a thread, which an abort ends. */
async function inThread<T extends object>(
  name: string,
  order: object,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<T> {
  const { port1, port2 } = new MessageChannel();
  port1.on('message', onProgress);
  try {
    const made = (await threads().run({ ...order, told: port2 }, { name, signal, transferList: [port2] })) as
      T | Refusal;
    if ('refused' in made) throw new CoreError(made.refused.code, made.refused.message);
    return made;
  } finally {
    port1.close();
  }
}

export const cutInThread = (
  order: CutOrder,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<CutResult> => inThread('cut', order, onProgress, signal);
export const fillInThread = (
  order: FillOrder,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<FillResult> => inThread('fill', order, onProgress, signal);
export const extendInThread = (
  order: ExtendOrder,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<ExtendResult> => inThread('extend', order, onProgress, signal);

/** Lays a shot out in a thread. */
export const layOutInThread = (order: LayOutOrder): Promise<ShotRasters<Picture>> =>
  threads().run(order, { name: 'layOut' }) as Promise<ShotRasters<Picture>>;
