'use client';

import { Ways } from '../../parts/Ways';
import { BringIn, HandOut } from './Files';
import { Check } from './Check';
import { EdgeWay } from './EdgeWay';
import { Plan } from './Plan';
import { Taking } from './Taking';
import { FloodWay, OutlineWay, PiecesWay, RegionWay, SliceWay, TraceWay } from './Ways';

const WAYS = [
  { key: 'outline', name: 'Outline', does: 'corners, curves, freely', Way: OutlineWay },
  { key: 'trace', name: 'Edge trace', does: 'follows the picture’s edge', Way: TraceWay },
  { key: 'flood', name: 'Flood', does: 'similar colour around a seed', Way: FloodWay },
  { key: 'region', name: 'Region paint', does: 'strokes that say in and out', Way: RegionWay },
  { key: 'pieces', name: 'Pieces', does: 'proposed, taken by a click', Way: PiecesWay },
  { key: 'slice', name: 'Depth slice', does: 'all between two depths', Way: SliceWay },
  { key: 'edge', name: 'Edge', does: 'offset, hair, feather, specks', Way: EdgeWay },
  { key: 'check', name: 'Check', does: 'the cut alone, on other grounds', Way: Check },
  { key: 'plan', name: 'Plan', does: 'name plates before cutting', Way: Plan },
  { key: 'bring', name: 'Bring in', does: 'plates from files and shots', Way: BringIn },
  { key: 'out', name: 'Hand out', does: 'all plates in one file', Way: HandOut },
] as const;

/** Choosing what becomes a plate, and cutting it. Nearest thing first. */
export function CutStage() {
  return (
    <>
      <div className="ct-stage-head">
        <h1>Cut</h1>
        <p>What the eye could look behind becomes a plate. Nearest thing first.</p>
      </div>
      <Taking />
      <Ways stage="cut" ways={WAYS} compact />
    </>
  );
}
