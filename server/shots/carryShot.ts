import { hidingPlates } from '@/core/shot/carriedNames';
import type { ShotDocument } from '@/core/shot/document';
import { database } from '../db/orm';
import { Problem } from '../http/problem';
import { proxyState } from '../media/footage/proxies';
import { inThread, type Follow } from '../threads/pool';
import { footageOf } from './footageOf';
import { shotState } from './history';
import { longWork } from './longWork';

/** What is carried: plates and depth from their keys, or what lies behind the plates. */
export const CARRIES = ['keys', 'behind'] as const;
export type Carries = (typeof CARRIES)[number];

/** Carries plates and depth from their keys to all other frames, in a thread. @throws Problem `not-yet`, `busy`, `stopped` */
export async function carryShot(id: string): Promise<{ readonly carried: number }> {
  const document = await preparedFilm(id);
  return longWork({ shot: id, name: 'Carrying', verb: 'Carrying' }, async (follow) => {
    const cut = await inThread('carryPlates', { document }, { follow: partOf(follow, 0, 0.3) });
    const depth = await inThread('carryDepth', { document }, { follow: partOf(follow, 0.3, 1) });
    return { carried: cut.carried + depth.carried };
  });
}

/** A film whose small pictures are there. @throws Problem `not-yet`, `damaged` */
async function preparedFilm(id: string): Promise<ShotDocument> {
  const { document } = await shotState(id);
  const { source } = footageOf({ document });
  await database();
  const { ready, frames, problem } = await proxyState(source);
  if (problem !== null) throw new Problem(422, 'damaged', problem);
  if (ready < frames)
    throw new Problem(
      425,
      'not-yet',
      `The frames are still being prepared: ${ready} of ${frames} are ready. Try again in a moment.`,
    );
  return document;
}

/** Progress of one part of several. */
const partOf = (follow: Follow, from: number, to: number): Follow => ({
  ...follow,
  onProgress: (share) => {
    follow.onProgress(from + (to - from) * share);
  },
});

/**
 * Finds what lies behind the plates in every frame, in a thread: borrowed from frames that show it. @throws Problem
 * `nothing-hidden`, `not-yet`, `busy`, `stopped`; CoreError `not-carried`
 */
export async function carryBehind(id: string): Promise<{ readonly carried: number }> {
  const document = await preparedFilm(id);
  if (hidingPlates(document.plates).length === 0)
    throw new Problem(
      422,
      'nothing-hidden',
      'No plate was cut from this film, so nothing lies hidden. Cut what the eye could look behind, and carry it.',
    );
  return longWork({ shot: id, name: 'what lies behind', verb: 'Finding' }, (follow) =>
    inThread('carryBehind', { document }, { follow }),
  );
}
