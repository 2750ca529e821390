import { join } from 'node:path';
import Piscina from 'piscina';
import { CoreError } from '@/core/error';
import type { CutOrder, CutRefusal, CutResult } from './cut';

const kept = globalThis as typeof globalThis & { corkThreads?: Piscina };

/** Cuts a plate in a thread. The threads' code is bundled into .build by scripts/build.mjs. */
export async function cutInThread(order: CutOrder): Promise<CutResult> {
  kept.corkThreads ??= new Piscina({ filename: join(process.cwd(), '.build/threads.mjs'), minThreads: 0, maxThreads: 2, idleTimeout: 20_000 });
  const made = (await kept.corkThreads.run(order, { name: 'cut' })) as CutResult | CutRefusal;
  if ('refused' in made) throw new CoreError(made.refused.code, made.refused.message);
  return made;
}
