'use client';

import type { WayOfWorking } from '../../parts/Ways';
import { useFill as useRoom } from './slice';
import { ByHand } from './ByHand';
import { BorderWay } from './BorderWay';
import { ByMachine } from './ByMachine';
import { HoleAndTears } from './HoleAndTears';
import { OverTime } from './OverTime';
import { Uncovered, useBeginWhereOpen, useCounting } from './Uncovered';

export const WAYS: readonly WayOfWorking[] = [
  { key: 'uncovered', name: 'What is uncovered', does: 'what must be filled, per plate', Way: Uncovered },
  { key: 'time', name: 'Over time', does: 'borrowed from frames that show it', Way: OverTime, moving: true },
  { key: 'machine', name: 'Fill', does: 'with texture, or smoothly', Way: ByMachine },
  { key: 'clone', name: 'Clone', does: 'copy by brush from elsewhere', Way: ByHand.Clone },
  { key: 'copy', name: 'Copy a piece', does: 'a whole good piece over a broken one', Way: ByHand.Copy },
  { key: 'line', name: 'Continue a line', does: 'bars and edges across; where grounds meet', Way: ByHand.Line },
  { key: 'erase', name: 'Erase', does: 'take filling back', Way: ByHand.Erase },
  { key: 'tears', name: 'Hole and tears', does: 'how holes open, tears or rubber', Way: HoleAndTears },
  { key: 'border', name: 'Border', does: 'where views run out of picture', Way: BorderWay, still: true },
];

/** Knowing what the views uncover, and putting a believable picture there. */
export function Head() {
  const name = useRoom((s) => s.document.plates.find((p) => p.id === s.active)?.name ?? 'the back plate');
  useCounting();
  useBeginWhereOpen();
  return (
    <>
      <div className="ct-stage-head">
        <h1>Fill</h1>
        <p>
          What nearer plates hide, as far as the views uncover it. In work: <b>{name}</b>.
        </p>
      </div>
    </>
  );
}
