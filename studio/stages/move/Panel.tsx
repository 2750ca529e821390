'use client';

import { readyMove } from '@/core/camera/ready';
import type { WayOfWorking } from '../../parts/Ways';
import { CameraWay } from './CameraWay';
import { GuardWay } from './GuardWay';
import { CompareWay } from './CompareWay';
import { KeyWay } from './KeyWay';
import { LengthWay } from './LengthWay';
import { ReadyMoves } from './Ready';
import { useMove } from './slice';

export const WAYS: readonly WayOfWorking[] = [
  { key: 'ready', name: 'Ready moves', does: 'made in one step', Way: ReadyMoves },
  { key: 'bead', name: 'Bead', does: 'place, aim, turn, zoom, ease', Way: KeyWay },
  { key: 'length', name: 'Length and way', does: 'seconds, rate, path', Way: LengthWay },
  { key: 'guard', name: 'Guard', does: 'what must not be seen', Way: GuardWay },
  { key: 'compare', name: 'Compare', does: 'ghosts, other versions', Way: CompareWay },
  { key: 'camera', name: 'Camera', does: 'lens, depth of the scene', Way: CameraWay },
];

/** What moves, in a sentence. */
export function Head() {
  const move = useMove((s) => s.document.move);
  const ready = move?.ready ? readyMove(move.ready.kind) : undefined;
  return (
    <div className="ct-stage-head">
      <h1>Move</h1>
      <p>
        {!move && 'A camera goes through the picture. Choose a ready move to begin.'}
        {ready && (
          <>
            <b>{ready.name}</b>: {ready.does}.
          </>
        )}
        {move && !ready && <>The camera goes by {move.keys.length === 1 ? 'one bead' : `${move.keys.length} beads`}.</>}
      </p>
    </div>
  );
}
