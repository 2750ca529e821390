'use client';

import { Button } from 'antd';
import { useEffect } from 'react';
import { Bead } from '../../parts/Bead';
import { SwitchRow } from '../../parts/SwitchRow';
import { figure } from '../../numbers';
import { STRAIGHT } from './making';
import { useParallaxNote } from './parallaxNote';
import { useDepth, useDepthStore } from './slice';

/** Depth in to depth out, by a curve that lies under the picture. */
export function RemapWay() {
  const store = useDepthStore();
  const { beads, invert } = useDepth((s) => s.remap);
  const chosen = useDepth((s) => s.remapBead);
  const note = useParallaxNote();
  const n = Math.min(chosen, beads.length - 1);
  const bead = beads[n];
  useEffect(
    () => () => {
      const s = store.getState();
      if (s.remap !== STRAIGHT) s.tryMake(undefined);
      s.set({ remap: STRAIGHT, remapBead: 0 });
    },
    [store],
  );
  const put = (part: Partial<typeof bead>): void => {
    store.getState().setRemap({ beads: beads.map((b, k) => (k === n ? { ...b, ...part } : b)), invert });
  };
  const slope = n < beads.length - 1 ? (beads[n + 1].to - bead.to) / (beads[n + 1].from - bead.from) : undefined;
  return (
    <>
      <p className="ct-hint">
        The curve lies under the picture. Steep parts take more depth, flat parts less; beyond its ends all is one
        depth.
      </p>
      <Bead
        label={`Bead ${n + 1}: in`}
        unit=""
        note={note(bead.from)}
        value={bead.from}
        min={n > 0 ? beads[n - 1].from + 0.01 : 0}
        max={n < beads.length - 1 ? beads[n + 1].from - 0.01 : 1}
        step={0.01}
        decimals={2}
        onTry={(from) => {
          put({ from });
        }}
      />
      <Bead
        label={`Bead ${n + 1}: out`}
        unit=""
        note={note(bead.to)}
        value={bead.to}
        min={0}
        max={1}
        step={0.01}
        decimals={2}
        greys
        onTry={(to) => {
          put({ to });
        }}
      />
      {slope !== undefined && (
        <p className="ct-hint">
          From here on × <b>{figure(slope, 2)}</b>
        </p>
      )}
      <SwitchRow
        label="Near and far change places"
        checked={invert}
        onChange={(v) => {
          store.getState().setRemap({ beads, invert: v });
        }}
      >
        Invert
      </SwitchRow>
      <div className="ct-mark-work">
        <Button
          size="small"
          onClick={() => {
            const s = store.getState();
            s.set({ remap: STRAIGHT, remapBead: 0 });
            s.tryMake(undefined);
          }}
        >
          Straight
        </Button>
      </div>
      <Button
        type="primary"
        block
        onClick={() => {
          const s = store.getState();
          void s.make({ kind: 'remap', beads: [...s.remap.beads], invert: s.remap.invert });
          s.set({ remap: STRAIGHT, remapBead: 0 });
        }}
      >
        Make it the depth map
      </Button>
    </>
  );
}
