import type { Footage, ShotDocument } from '@/core/shot/document';
import { Problem } from '../http/problem';
import type { ShotState } from './history';

/** A shot's source and what it has as footage. @throws Problem `no-footage` for a still */
export function footageOf({ document: { source, footage } }: Pick<ShotState, 'document'>): {
  readonly source: ShotDocument['source'];
  readonly footage: Footage;
} {
  if (!footage) throw new Problem(409, 'no-footage', 'This shot is a still: it has no frames.');
  return { source, footage };
}

/** @throws Problem `no-such-frame` for one beyond the last */
export function requireFrame({ frames }: Footage, moment: number): void {
  if (moment >= frames)
    throw new Problem(422, 'no-such-frame', `Frame ${moment + 1} is beyond the last one, ${frames}.`);
}
