'use client';

import { Button } from 'antd';
import type { WayOfWorking } from '../../parts/Ways';
import { useRoom, useRoomStore } from '../../room/context';
import { BringIn, HandOut } from './Files';
import { Check } from './Check';
import { EdgeWay } from './EdgeWay';
import { OverTime } from './OverTime';
import { Plan } from './Plan';
import { Taking } from './Taking';
import { FloodWay, OutlineWay, PiecesWay, RegionWay, SliceWay, TraceWay } from './Ways';

export const WAYS: readonly WayOfWorking[] = [
  { key: 'outline', name: 'Outline', does: 'corners, curves, freely', Way: OutlineWay },
  { key: 'trace', name: 'Edge trace', does: 'follows the picture’s edge', Way: TraceWay },
  { key: 'flood', name: 'Flood', does: 'similar colour around a seed', Way: FloodWay },
  { key: 'region', name: 'Region paint', does: 'strokes that say in and out', Way: RegionWay },
  { key: 'pieces', name: 'Pieces', does: 'proposed, taken by a click', Way: PiecesWay },
  { key: 'slice', name: 'Depth slice', does: 'all between two depths', Way: SliceWay },
  { key: 'edge', name: 'Edge', does: 'offset, hair, feather, specks', Way: EdgeWay },
  { key: 'check', name: 'Check', does: 'the cut alone, on other grounds', Way: Check },
  { key: 'time', name: 'Over time', does: 'key frames, carried to the others', Way: OverTime, moving: true },
  { key: 'plan', name: 'Plan', does: 'name plates before cutting', Way: Plan },
  { key: 'bring', name: 'Bring in', does: 'plates from files and shots', Way: BringIn },
  { key: 'out', name: 'Hand out', does: 'all plates in one file', Way: HandOut },
];

/** Choosing what becomes a plate, and cutting it. Nearest thing first. */
export function Head() {
  return (
    <>
      <div className="ct-stage-head">
        <h1>Cut</h1>
        <p>What the eye could look behind becomes a plate. Nearest thing first.</p>
      </div>
      <NextStep />
      <Taking />
    </>
  );
}

/** What to begin with, as long as nothing was done to the shot. */
function NextStep() {
  const store = useRoomStore();
  const untouched = useRoom((s) => s.untouched && s.choice.ingredients.length === 0);
  if (!untouched) return null;
  return (
    <div className="ct-taking" role="note">
      <p className="ct-hint">
        <b>This picture is flat so far.</b> Begin with the nearest thing: choose it by one of the ways below and cut it.
        Or give all of it a first depth, read off the picture: the glasses then show it within seconds.
      </p>
      <Button
        size="small"
        onClick={() => {
          store.getState().goFor('flat');
        }}
      >
        Start with a first depth
      </Button>
    </div>
  );
}
