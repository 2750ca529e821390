import { join } from 'node:path';
import Piscina from 'piscina';
import { CoreError } from '@/core/error';
import type { CutOrder, CutResult } from './cut';

const kept = globalThis as typeof globalThis & { corkThreads?: Piscina };

/** Cuts a plate in a thread. The threads' code is bundled into .build by scripts/build.mjs. */
export async function cutInThread(order: CutOrder): Promise<CutResult> {
  kept.corkThreads ??= new Piscina({ filename: join(process.cwd(), '.build/threads.mjs'), minThreads: 0, maxThreads: 2, idleTimeout: 20_000 });
  try {
    return (await kept.corkThreads.run(order, { name: 'cut' })) as CutResult;
  } catch (error) {
    // An error that crosses threads keeps its fields but not its class.
    const { code, message, name } = error as { code?: unknown; message: string; name?: string };
    if (name === 'CoreError' && typeof code === 'string') throw new CoreError(code, message);
    throw error;
  }
}
