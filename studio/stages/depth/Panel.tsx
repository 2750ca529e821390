'use client';

import { Button } from 'antd';
import { Bead } from '../../parts/Bead';
import { BrushBeads } from '../../parts/BrushBeads';
import { Choice } from '../../parts/Choice';
import type { WayOfWorking } from '../../parts/Ways';
import { SwitchRow } from '../../parts/SwitchRow';
import { CheckWay } from './CheckWay';
import { BringIn, HandOut } from './Files';
import { MarksWay } from './MarksWay';
import { RemapWay } from './RemapWay';
import { useParallaxNote } from './parallaxNote';
import { useDepth as useRoom, useDepthStore as useRoomStore } from './slice';
import { SecondPicture } from './SecondPicture';
import { ShapeWay } from './ShapeWay';
import { StartWay } from './StartWay';

export const WAYS: readonly WayOfWorking[] = [
  { key: 'start', name: 'Start', does: 'read off the picture', Way: StartWay },
  { key: 'marks', name: 'Marks', does: 'a few strokes, a whole map', Way: MarksWay },
  { key: 'shape', name: 'Shape', does: 'bodies, slices, edges', Way: ShapeWay },
  { key: 'paint', name: 'Paint', does: 'set, nearer, farther, smooth', Way: Paint },
  { key: 'ramp', name: 'Ramp', does: 'along a line', Way: RampOptions },
  { key: 'outline', name: 'Outline', does: 'fill a polygon with a depth', Way: OutlineOptions },
  { key: 'remap', name: 'Remap', does: 'a curve of depth in to depth out', Way: RemapWay },
  { key: 'check', name: 'Check', does: 'what shows in glasses', Way: CheckWay },
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
  const shown = useRoom((s) => s.active === null && s.document.plates.some((p) => p.matte !== null && !p.piece));
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

function Paint() {
  const store = useRoomStore();
  const brush = useRoom((s) => s.brush);
  const source = useRoom((s) => s.document.source);
  const note = useParallaxNote();
  const set = (part: Partial<typeof brush>): void => {
    store.getState().set({ brush: { ...store.getState().brush, ...part } });
  };
  const by = brush.mode === 'nearer' || brush.mode === 'farther';
  return (
    <>
      <Choice
        label="Way of the brush"
        value={brush.mode}
        onChange={(mode) => {
          set({
            mode,
            ...((mode === 'nearer' || mode === 'farther') && !by && { depth: 0.05 }),
            ...(mode === 'set' && by && { depth: 0.7 }),
          });
        }}
        options={[
          { value: 'set', label: 'Set' },
          { value: 'nearer', label: 'Nearer' },
          { value: 'farther', label: 'Farther' },
          { value: 'smooth', label: 'Smooth' },
        ]}
      />
      {brush.mode !== 'smooth' && (
        <Bead
          label={by ? 'By' : 'Depth'}
          unit=""
          note={by ? '' : note(brush.depth)}
          value={brush.depth}
          min={0}
          max={1}
          step={0.01}
          decimals={2}
          greys={!by}
          onTry={(depth) => {
            set({ depth });
          }}
        />
      )}
      <BrushBeads brush={brush} most={Math.min(4000, Math.max(source.width, source.height))} onTry={set} />
      <Choice
        label="Pen pressure sets"
        value={brush.pressure}
        onChange={(pressure) => {
          set({ pressure });
        }}
        options={[
          { value: 'none', label: 'Nothing' },
          { value: 'strength', label: 'Strength' },
          { value: 'size', label: 'Size' },
        ]}
      />
    </>
  );
}

function RampOptions() {
  const store = useRoomStore();
  const ramp = useRoom((s) => s.ramp);
  const note = useParallaxNote();
  const set = (part: Partial<typeof ramp>): void => {
    store.getState().set({ ramp: { ...store.getState().ramp, ...part } });
  };
  return (
    <>
      <p className="ct-hint">
        Draw a line on the picture. A floor in perspective is such a ramp: begin at the horizon, end at the lower edge.
      </p>
      <Bead
        label="At its beginning"
        unit=""
        note={note(ramp.fromDepth)}
        value={ramp.fromDepth}
        min={0}
        max={1}
        step={0.01}
        decimals={2}
        greys
        onTry={(fromDepth) => {
          set({ fromDepth });
        }}
      />
      <Bead
        label="At its end"
        unit=""
        note={note(ramp.toDepth)}
        value={ramp.toDepth}
        min={0}
        max={1}
        step={0.01}
        decimals={2}
        greys
        onTry={(toDepth) => {
          set({ toDepth });
        }}
      />
      <Choice
        label="Beyond the line"
        value={ramp.reach}
        onChange={(reach) => {
          set({ reach });
        }}
        options={[
          { value: 'everywhere', label: 'Goes on' },
          { value: 'between', label: 'Leave alone' },
        ]}
      />
      <Choice
        label="Where there is depth"
        value={ramp.against}
        onChange={(against) => {
          set({ against });
        }}
        options={[
          { value: 'replace', label: 'Replace' },
          { value: 'nearer', label: 'If nearer' },
          { value: 'farther', label: 'If farther' },
        ]}
      />
    </>
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
