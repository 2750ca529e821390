import { CoreError } from '@/core/error';
import { atMoment, keyAt, nearestKey } from '@/core/shot/atMoment';
import { carriedName, depthFrom } from '@/core/shot/carriedNames';
import type { DepthKeyPart } from '@/core/shot/document';
import { Problem } from '../http/problem';
import { inThread } from '../threads/pool';
import { carriedIsThere } from './carriedRasters';
import { footageOf, requireFrame } from './footageOf';
import { changeShot, documentOf, type ShotAt, type ShotState } from './history';

/**
 * Gives a frame depth of its own: what is carried there, or else the nearest key's. @throws Problem `key-there`
 */
export async function setKey(at: ShotAt): Promise<ShotState> {
  const moment = at.moment ?? 0;
  const seen = await documentOf(at);
  const { source, footage: was } = footageOf({ document: seen });
  requireFrame(was, moment);
  if (keyAt(was, moment)) throw new Problem(422, 'key-there', `Frame ${moment + 1} has depth of its own already.`);
  const name = carriedName(source.mediaId, depthFrom(seen), moment);
  const { width, height } = source;
  const revision = carriedIsThere(name)
    ? (await inThread('storeCarried', { name, size: { width, height } })).revision
    : nearestKey(was, moment).revision;
  return changeShot(at, `Depth key at frame ${moment + 1}`, (_em, document) => {
    const { footage } = footageOf({ document });
    const key: DepthKeyPart = { frame: moment, revision, marks: [], keptDepths: [] };
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
