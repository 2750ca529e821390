'use client';

import { Button } from 'antd';
import { useEffect, useState } from 'react';
import type { StartFound } from '@/compute/preview.worker';
import type { Cues, RoomShape } from '@/core/depth/start/cues';
import type { VanishingPoint } from '@/core/depth/start/vanishingPoint';
import type { Cue } from '@/core/depth/start/generateStart';
import { keyAt } from '@/core/shot/atMoment';
import { Bead } from '../../parts/Bead';
import { Choice } from '../../parts/Choice';
import { SwitchRow } from '../../parts/SwitchRow';
import { Underway } from '../../parts/Underway';
import { Networks } from './Networks';
import { useDepth, useDepthStore } from './slice';

const ROOMS: readonly { value: RoomShape; label: string }[] = [
  { value: 'none', label: 'None' },
  { value: 'ground', label: 'Ground' },
  { value: 'street', label: 'Street' },
  { value: 'corridor', label: 'Corridor' },
];

/** What the preview has found in the picture; undefined while it looks. */
function useFound(): StartFound | undefined {
  const [found, setFound] = useState<StartFound | undefined>();
  const preview = useDepth((s) => s.preview);
  const media = useDepth((s) => s.document.source.mediaId);
  useEffect(() => {
    let gone = false;
    void preview?.readStart().then((made) => {
      if (!gone) setFound(made);
    });
    return () => {
      gone = true;
    };
  }, [preview, media]);
  return found;
}

/** Offered where many lines agree. */
function Agreed({ point: { x, y, agree }, set }: { point: VanishingPoint; set(part: Partial<Cues>): void }) {
  return (
    <Button
      block
      size="small"
      title={`${Math.round(agree * 100)} % of the slanting edges in the picture point to one place`}
      onClick={() => {
        set({ vanishing: { x: Math.min(1, Math.max(0, x)), y } });
      }}
    >
      Put it where lines meet
    </Button>
  );
}

/** A first map, read off the picture. */
export function StartWay() {
  const store = useDepthStore();
  const { cues, alone, starting } = useDepth((s) => s);
  const active = useDepth((s) => s.active);
  const name = useDepth((s) => s.document.plates.find((p) => p.id === s.active)?.name ?? 'the back plate');
  const ready = useDepth((s) => s.preview !== undefined);
  const flat = useDepth((s) => s.untouched);
  // A picture without depth shows its start at once; a map that is there is left until somebody asks.
  const shows = starting || flat;
  useEffect(() => {
    if (ready && shows) store.getState().tryMake({ kind: 'start', cues, ...(alone ? { alone } : {}) }, true);
  }, [store, ready, shows, cues, alone, active]);
  useEffect(
    () => () => {
      const s = store.getState();
      if (s.starting || s.untouched) s.tryMake(undefined);
      s.set({ starting: false, alone: undefined });
    },
    [store],
  );
  const found = useFound();
  const set = (part: Partial<Cues>): void => {
    const s = store.getState();
    s.set({ cues: { ...s.cues, ...part }, starting: true });
  };
  const weight = (label: string, cue: Cue, key: 'position' | 'saliency' | 'detail' | 'haze' | 'room', mute = false) => (
    <div className="ct-cue">
      <Bead
        label={label}
        unit=""
        value={cues[key]}
        min={0}
        max={2}
        step={0.02}
        decimals={2}
        onTry={(v) => {
          set({ [key]: v });
        }}
      />
      <button
        type="button"
        className="ct-cue-alone"
        aria-pressed={alone === cue}
        aria-label={`${label} alone`}
        onClick={() => {
          store.getState().set({ alone: alone === cue ? undefined : cue, starting: true });
        }}
      >
        alone
      </button>
      {mute && <small className="ct-cue-mute">says nothing in this picture</small>}
    </div>
  );
  return (
    <>
      <p className="ct-hint">
        Read off the picture for <b>{name}</b>: a start, not a truth. Correct it with marks or the brush.
      </p>
      <Choice
        label="The room"
        value={cues.shape}
        onChange={(shape) => {
          set({ shape });
        }}
        options={ROOMS}
      />
      {cues.shape === 'none' ? (
        weight('Lower is nearer', 'position', 'position')
      ) : (
        <>
          {weight('The room counts', 'room', 'room')}
          <p className="ct-hint">
            Drag the point on the picture to where lines that go away meet. Looking up or down, it lies outside.
          </p>
          {found?.vanishing && <Agreed point={found.vanishing} set={set} />}
        </>
      )}
      {weight('What stands out', 'saliency', 'saliency', found?.standing === 0)}
      {weight('What is sharp', 'detail', 'detail', found?.sharpness === 0)}
      {weight('Haze is far', 'haze', 'haze')}
      <SwitchRow
        label="Sky is farthest"
        checked={cues.sky}
        onChange={(sky) => {
          set({ sky });
        }}
      >
        Sky is farthest
      </SwitchRow>
      <Bead
        label="Fitted to edges"
        unit="%"
        value={cues.edges * 100}
        min={0}
        max={100}
        step={1}
        onTry={(v) => {
          set({ edges: v / 100 });
        }}
      />
      {!shows && (
        <Button
          block
          onClick={() => {
            store.getState().set({ starting: true });
          }}
        >
          Look at the start
        </Button>
      )}
      <Button
        type="primary"
        block
        onClick={() => {
          const s = store.getState();
          // What is stored is looked at from now on.
          s.set({ alone: undefined });
          s.tryMake({ kind: 'start', cues: s.cues });
          void s.make({ kind: 'start', cues: s.cues }).then(() => {
            store.getState().set({ starting: false });
          });
        }}
      >
        Make it the depth map
      </Button>
      <FromMotion />
      <Networks />
    </>
  );
}

/** Where the camera moves, what is nearer goes farther: offered for the back plate of a film. */
function FromMotion() {
  const store = useDepthStore();
  const offered = useDepth((s) => s.document.footage !== null && s.active === null);
  const working = useDepth((s) => s.working);
  const keyed = useDepth((s) => s.document.footage !== null && keyAt(s.document.footage, s.moment) !== undefined);
  if (!offered) return null;
  if (working !== undefined) return <Underway of="start" />;
  return (
    <>
      <p className="ct-hint">Where the camera moves, nearer things go farther: that too is a start.</p>
      <Button
        block
        disabled={!keyed}
        onClick={() => {
          store.getState().startFromMotion();
        }}
      >
        Start from motion
      </Button>
    </>
  );
}
