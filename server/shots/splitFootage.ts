import { Shot } from '../db/entities';
import { inTransaction } from '../db/orm';
import { Problem } from '../http/problem';
import { proxyState } from '../media/footage/proxies';
import { footageOf } from './footageOf';
import { shotState } from './history';
import { createShot } from './shots';

/**
 * Makes a shot of every scene between the cuts that were found; the shot itself stays as it is. The file is stored
 * once.
 * @returns their ids, in order @throws Problem `no-cuts`, `not-yet`
 */
export async function splitFootage(id: string): Promise<string[]> {
  const state = await shotState(id);
  const { source, footage } = footageOf(state);
  const { ready, frames, cuts } = await proxyState(source);
  if (ready < frames)
    throw new Problem(
      425,
      'not-yet',
      `The frames are still being prepared: ${ready} of ${frames} are ready. Try again in a moment.`,
    );
  if (cuts.length === 0) throw new Problem(422, 'no-cuts', 'No cut was found: this film is one scene.');
  const bounds = [0, ...cuts, frames];
  return inTransaction(async (em) => {
    if (!(await em.findOne(Shot, { id }))) throw Problem.notFound('This shot');
    const made: string[] = [];
    for (let scene = 0; scene + 1 < bounds.length; scene++)
      made.push(
        await createShot(em, {
          projectId: state.projectId,
          name: `${state.name} ${scene + 1}`,
          source,
          footage: {
            ...footage,
            range: { first: bounds[scene], last: bounds[scene + 1] - 1 },
            markers: [],
            script: [],
            keys: [],
            fills: [],
          },
        }),
      );
    return made;
  });
}
