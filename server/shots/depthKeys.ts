import { CoreError } from '@/core/error';
import { atMoment, carriedName, keyAt, nearestKey } from '@/core/shot/atMoment';
import type { DepthKeyPart, Footage } from '@/core/shot/document';
import { database } from '../db/orm';
import { Problem } from '../http/problem';
import { proxyState } from '../media/footage/proxies';
import { inThread } from '../threads/pool';
import { carriedIsThere, carriedTrust } from './carriedDepth';
import { footageOf } from './footageOf';
import { changeShot, documentOf, shotState, type ShotAt, type ShotState } from './history';
import { longWork } from './longWork';

/** What is known of a shot's frames beside its document. */
export interface FootageState {
  readonly proxies: Awaited<ReturnType<typeof proxyState>>;
  /** Trust of every frame, 0 to 1: keys 1; null where nothing is carried yet. */
  readonly trust: readonly (number | null)[];
  /** The keys that it is carried from. */
  readonly keys: readonly Pick<DepthKeyPart, 'frame' | 'revision'>[];
}

const trusts = new Map<string, number>();

export async function footageState(id: string): Promise<FootageState> {
  const { source, footage } = footageOf(await shotState(id));
  const trust = Array.from({ length: footage.frames }, async (_, frame): Promise<number | null> => {
    if (keyAt(footage, frame)) return 1;
    const name = carriedName(source.mediaId, footage, frame);
    if (!carriedIsThere(name)) return null;
    const known = trusts.get(name) ?? (await carriedTrust(name));
    if (known !== null) trusts.set(name, known);
    return known;
  });
  return {
    proxies: await proxyState(source),
    trust: await Promise.all(trust),
    keys: footage.keys.map(({ frame, revision }) => ({ frame, revision })),
  };
}

/**
 * Gives a frame depth of its own: what is carried there, or else the nearest key's. @throws Problem `key-there`
 */
export async function setKey(at: ShotAt): Promise<ShotState> {
  const moment = at.moment ?? 0;
  const { source, footage: was } = footageOf({ document: await documentOf(at) });
  requireFrame(was, moment);
  if (keyAt(was, moment)) throw new Problem(422, 'key-there', `Frame ${moment + 1} has depth of its own already.`);
  const name = carriedName(source.mediaId, was, moment);
  const { width, height } = source;
  const revision = carriedIsThere(name)
    ? (await inThread('storeCarried', { name, size: { width, height } })).revision
    : nearestKey(was, moment).revision;
  return changeShot(at, `Depth key at frame ${moment + 1}`, (_em, document) => {
    const { footage } = footageOf({ document });
    const key: DepthKeyPart = { frame: moment, revision, behind: null, marks: [], keptDepths: [] };
    const keys = [...footage.keys, key].sort((a, b) => a.frame - b.frame);
    return Promise.resolve({ ...document, depth: { ...document.depth, revision }, footage: { ...footage, keys } });
  });
}

/** Takes a frame's own depth away: it is carried again. @throws Problem `no-key`, `first-key` */
export function dropKey(at: ShotAt): Promise<ShotState> {
  const moment = at.moment ?? 0;
  return changeShot(at, `No depth key at frame ${moment + 1}`, (_em, document) => {
    const { footage } = footageOf({ document });
    if (moment === 0)
      throw new Problem(
        422,
        'first-key',
        'The first frame keeps depth of its own: all others are carried from somewhere.',
      );
    if (!keyAt(footage, moment)) throw new CoreError('no-key', `Frame ${moment + 1} has no depth of its own.`);
    // It stands at a frame that is there still, so that nothing is written back into the key that goes.
    const first = atMoment(document, 0);
    const keys = first.footage!.keys.filter(({ frame }) => frame !== moment);
    return Promise.resolve({ ...first, footage: { ...first.footage!, keys } });
  });
}

function requireFrame({ frames }: Footage, moment: number): void {
  if (moment >= frames)
    throw new Problem(422, 'no-such-frame', `Frame ${moment + 1} is beyond the last one, ${frames}.`);
}

/** Carries depth from the keys to all other frames, in a thread. @throws Problem `not-yet`, `busy`, `stopped` */
export async function carryShot(id: string): Promise<{ readonly carried: number }> {
  const { source, footage } = footageOf(await shotState(id));
  await database();
  const { ready, frames, problem } = await proxyState(source);
  if (problem !== null) throw new Problem(422, 'damaged', problem);
  if (ready < frames)
    throw new Problem(
      425,
      'not-yet',
      `The frames are still being prepared: ${ready} of ${frames} are ready. Try again in a moment.`,
    );
  return longWork({ shot: id, name: 'Carrying depth', verb: 'Carrying' }, (follow) =>
    inThread('carryDepth', { source, footage }, { follow }),
  );
}
