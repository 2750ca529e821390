'use client';

import { Button } from 'antd';
import { OverTime } from '../../footage/OverTime';
import { Bead } from '../../parts/Bead';
import type { WayOfWorking } from '../../parts/Ways';
import { SwitchRow } from '../../parts/SwitchRow';
import { CheckWay } from './CheckWay';
import { BringIn, HandOut } from './Files';
import { MarksWay } from './MarksWay';
import { PaintWay } from './PaintWay';
import { RampWay } from './RampWay';
import { ReliefWay } from './ReliefWay';
import { RemapWay } from './RemapWay';
import { useParallaxNote } from './parallaxNote';
import { useDepth as useRoom, useDepthStore as useRoomStore } from './slice';
import { SecondPicture } from './SecondPicture';
import { ShapeWay } from './ShapeWay';
import { StartWay } from './StartWay';
import { StepsWay } from './StepsWay';

export const WAYS: readonly WayOfWorking[] = [
  { key: 'over-time', name: 'Over time', does: 'key frames carry the rest', Way: OverTime, moving: true },
  { key: 'start', name: 'Start', does: 'read off the picture', Way: StartWay },
  { key: 'marks', name: 'Marks', does: 'a few strokes, a whole map', Way: MarksWay },
  { key: 'shape', name: 'Shape', does: 'bodies, slices, edges, bumps', Way: ShapeWay },
  { key: 'paint', name: 'Paint', does: 'set, nearer, smooth, push', Way: PaintWay },
  { key: 'ramp', name: 'Ramp', does: 'a line, a circle, reflected', Way: RampWay },
  { key: 'outline', name: 'Outline', does: 'fill a polygon with a depth', Way: OutlineOptions },
  { key: 'remap', name: 'Remap', does: 'a curve of depth in to depth out', Way: RemapWay },
  { key: 'relief', name: 'Relief', does: 'the map as a surface', Way: ReliefWay },
  { key: 'check', name: 'Check', does: 'what shows in glasses', Way: CheckWay },
  { key: 'steps', name: 'Steps', does: 'every map there was, versions', Way: StepsWay },
  { key: 'second', name: 'Second picture', does: 'a photograph from the right', Way: SecondPicture },
  { key: 'bring-in', name: 'Bring in', does: 'a depth picture, ready made', Way: BringIn },
  { key: 'hand-out', name: 'Hand out', does: 'PNG, TIFF, EXR, PFM', Way: HandOut },
];

/** Painting, ramps, outlines, and depth pictures in and out. */
export function Head() {
  const on = useRoom((s) => s.document.plates.find((p) => p.id === s.active)?.name ?? 'Back plate');
  return (
    <>
      <div className="ct-stage-head">
        <h1>Depth</h1>
        <p>
          You paint on <b>{on}</b>. White is near, black is far.
        </p>
      </div>
      <BehindPlates />
    </>
  );
}

/** The back plate goes on behind the plates; its depth there can be opened and painted. */
function BehindPlates() {
  const store = useRoomStore();
  // What lies behind the plates of a film is carried.
  const shown = useRoom(
    ({ active, document }) =>
      active === null && !document.footage && document.plates.some((p) => p.matte !== null && !p.piece),
  );
  const on = useRoom((s) => s.paintBehind && s.document.depth.behind !== null);
  const open = useRoom((s) => s.document.depth.behind !== null);
  if (!shown) return null;
  return (
    <div className="ct-taking">
      <SwitchRow
        label="Behind the plates"
        checked={on}
        onChange={(v) => {
          store.getState().set({ paintBehind: v });
          if (v && !open) store.getState().actOnPlates('Open the depth behind', { action: 'open-behind' });
        }}
      >
        Paint behind the plates
      </SwitchRow>
      <p className="ct-hint">Behind the plates, depth goes on</p>
      <Button
        size="small"
        title="The planes around what is hidden go on behind it and meet where they would; smooth where there are none. Undo brings back what was painted."
        onClick={() => {
          store.getState().actOnPlates('Depth behind by floors and walls', { action: 'open-behind', by: 'planes' });
        }}
      >
        By floors and walls
      </Button>
      {open && (
        <Button
          size="small"
          onClick={() => {
            store.getState().set({ paintBehind: false });
            store.getState().actOnPlates('Depth behind as it goes on', { action: 'close-behind' });
          }}
        >
          As it goes on from around
        </Button>
      )}
    </div>
  );
}

function OutlineOptions() {
  const store = useRoomStore();
  const depth = useRoom((s) => s.outlineDepth);
  const note = useParallaxNote();
  return (
    <>
      <p className="ct-hint">
        Click corner after corner on the picture. A double click or Enter closes the outline and fills it.
      </p>
      <Bead
        label="Depth inside"
        unit=""
        note={note(depth)}
        value={depth}
        min={0}
        max={1}
        step={0.01}
        decimals={2}
        greys
        onTry={(outlineDepth) => {
          store.getState().set({ outlineDepth });
        }}
      />
    </>
  );
}
