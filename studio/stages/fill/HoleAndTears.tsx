'use client';

import { useEffect, useState } from 'react';
import { holePush } from '@/core/shot/plates';
import { figure } from '../../numbers';
import { sceneOf } from '@/core/scene/sceneOf';
import { Bead } from '../../parts/Bead';
import { SwitchRow } from '../../parts/SwitchRow';
import { useFill as useRoom, useFillStore as useRoomStore } from './slice';

/** How far holes are pushed out; and whether depth jumps tear or stretch like rubber, plate by plate. */
export function HoleAndTears() {
  const store = useRoomStore();
  const active = useRoom((s) => s.active);
  const plate = useRoom((s) => s.document.plates.find((p) => p.id === s.active));
  const { holePx, tearPx, tearSoftPx, source, budget, sourceEye } = useRoom((s) => s.document);
  const depth = useRoom((s) => s.document.plates);
  const behind = useRoom((s) => s.behind);
  const preview = useRoom((s) => s.preview);
  const [worst, setWorst] = useState<{ x: number; y: number; factor: number } | undefined>();
  useEffect(() => {
    let gone = false;
    const timer = setTimeout(() => {
      void preview?.worstStretch(sceneOf(store.getState().document), active).then((w) => {
        if (!gone) setWorst(w);
      });
    }, 200);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [store, preview, active, tearPx, budget, depth, sourceEye]);
  const limit = plate ? (plate.tearPx ?? tearPx) : tearPx;
  const name = plate?.name ?? 'the back plate';
  const tearPatch = (v: number | null) => (plate ? { plates: [{ id: plate.id, tearPx: v }] } : { tearPx: v ?? 2 });
  return (
    <>
      <Bead
        label="Holes pushed out by"
        unit="px"
        note={holePx === null ? 'by size' : ''}
        value={holePx ?? holePush(source.width)}
        min={0}
        max={30}
        step={1}
        onTry={(v) => {
          store.getState().try({ holePx: v });
        }}
        onKeep={() => {
          store.getState().keep('Push holes out');
        }}
      />
      <p className="ct-hint">More where a rim of the lifted plate stays behind, less where its matte is exact.</p>
      <Bead
        label={`Tear limit of ${name}`}
        unit="px"
        note={plate?.tearPx === null ? 'as the shot' : ''}
        value={limit}
        min={0.25}
        max={200}
        step={0.25}
        decimals={2}
        logarithmic
        onTry={(v) => {
          store.getState().try(tearPatch(Math.min(200, Math.max(0.25, v))));
        }}
        onKeep={() => {
          store.getState().keep('Tear limit');
        }}
      />
      <p className="ct-hint">
        Jumps of parallax above it tear open and are filled from behind; below it the picture stretches like rubber.
      </p>
      <Bead
        label="Softness of torn edges"
        unit="px"
        note={plate?.tearSoftPx === null ? 'as the shot' : ''}
        value={plate?.tearSoftPx ?? tearSoftPx}
        min={0}
        max={20}
        step={1}
        onTry={(v) => {
          store.getState().try(plate ? { plates: [{ id: plate.id, tearSoftPx: v }] } : { tearSoftPx: v });
        }}
        onKeep={() => {
          store.getState().keep('Softness of torn edges');
        }}
      />
      <SwitchRow
        label="Show where it stretches"
        checked={behind.stretch}
        onChange={(stretch) => {
          store.getState().set({ behind: { ...behind, stretch } });
        }}
      >
        Show where it stretches
      </SwitchRow>
      {worst && (
        <p className={worst.factor > 2 ? 'ct-hint ct-warn' : 'ct-hint'} role="status">
          {worst.factor <= 1.05 ? (
            'Nothing is stretched.'
          ) : (
            <>
              Worst: <b>{figure(worst.factor, 1)} times as wide</b> at {figure(worst.x)}, {figure(worst.y)} px.
            </>
          )}
        </p>
      )}
    </>
  );
}
