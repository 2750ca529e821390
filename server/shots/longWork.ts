import { setImmediate as breath } from 'node:timers/promises';
import type { Choice } from '@/core/matte/choice';
import type { DepthMap, Mask } from '@/core/raster/picture';
import type { ShotDocument } from '@/core/shot/document';
import { Problem } from '../http/problem';
import { sourceRaster } from '../media/decode';
import { cutInThread, extendInThread, fillInThread } from '../threads/pool';
import type { CutResult } from '../threads/cut';
import type { ExtendOrder, ExtendResult } from '../threads/extend';
import type { FillOrder, FillResult } from '../threads/fill';

interface LongWork {
  readonly name: string;
  share: number;
  readonly stop: AbortController;
}

/** What is being worked on just now, by shot. In memory: what the server does not finish has changed nothing. */
const kept = globalThis as typeof globalThis & { corkWorks?: Map<string, LongWork> };
const works = (): Map<string, LongWork> => (kept.corkWorks ??= new Map<string, LongWork>());

/** What a shot's long work is called, and the share that is done; null where there is none. */
export function workOf(shot: string): { readonly name: string; readonly share: number } | null {
  const one = works().get(shot);
  return one ? { name: one.name, share: one.share } : null;
}

export function stopWork(shot: string): void {
  works().get(shot)?.stop.abort();
}

/** Runs long work on a shot, one at a time, with progress, stoppable. @throws Problem `busy`, `stopped` */
async function longWork<T>(
  shot: string,
  name: string,
  verb: string,
  run: (onProgress: (share: number) => void, signal: AbortSignal) => Promise<T>,
): Promise<T> {
  if (works().has(shot))
    throw new Problem(409, 'busy', `${works().get(shot)!.name} is still being worked on. Wait for it, or stop it.`);
  const work: LongWork = { name, share: 0, stop: new AbortController() };
  works().set(shot, work);
  try {
    return await run((share) => {
      work.share = share;
    }, work.stop.signal);
  } catch (error) {
    if (work.stop.signal.aborted)
      throw new Problem(409, 'stopped', `${verb} ${name} was stopped, so nothing was changed.`);
    throw error;
  } finally {
    works().delete(shot);
  }
}

/**
 * Makes a plate's matte and depth of a choice in a thread.
 * @param spared mattes of plates that keep what they hold
 * @throws Problem `busy` where the shot is at it already, `stopped`; CoreError what the choice throws
 */
export async function cutChoice(
  shot: string,
  name: string,
  source: ShotDocument['source'],
  choice: Choice,
  from: { readonly depth: DepthMap; readonly near: number; readonly far: number },
  spared: readonly Mask[],
): Promise<CutResult> {
  const raster = await sourceRaster(source);
  return longWork(shot, name, 'Cutting', (onProgress, signal) =>
    cutInThread(
      { raster, choice, depth: from.depth, span: { near: from.near, far: from.far }, spared },
      onProgress,
      signal,
    ),
  );
}

/** Share of a fill that finding its hole takes. */
const FINDING = 0.2;

/**
 * Fills a hole in a thread.
 * @param prepare finds what is to be filled and tells the share that is found; other requests are answered whenever it tells
 * @throws Problem `busy`, `stopped`, what `prepare` throws; CoreError what filling throws
 */
export function fillOrdered(
  shot: string,
  name: string,
  prepare: (onProgress: (share: number) => Promise<void>) => Promise<FillOrder>,
): Promise<FillResult> {
  return longWork(shot, name, 'Filling', async (onProgress, signal) => {
    const order = await prepare(async (share) => {
      onProgress(share * FINDING);
      await breath();
      signal.throwIfAborted();
    });
    return fillInThread(
      order,
      (share) => {
        onProgress(FINDING + share * (1 - FINDING));
      },
      signal,
    );
  });
}

/** Writes a picture with canvas around it, in a thread. @throws Problem `busy`, `stopped`; CoreError what extending throws */
export function extendOrdered(shot: string, order: ExtendOrder): Promise<ExtendResult> {
  return longWork(shot, 'the canvas', 'Extending', (onProgress, signal) => extendInThread(order, onProgress, signal));
}
