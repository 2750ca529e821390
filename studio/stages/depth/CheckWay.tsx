'use client';

import { useEffect } from 'react';
import type { Fault, FaultKind } from '@/core/depth/faults';
import { api } from '../../api';
import { figure } from '../../numbers';
import { useDepth, useDepthStore } from './slice';

/** A look over the map waits so long for more changes, ms. */
const REST_MS = 300;

const NAMES: Record<FaultKind, string> = {
  halo: 'Halo beside an edge',
  astray: 'Edge not in the picture',
  specks: 'Lone specks',
  terraces: 'Terraces of 8 bits',
  empty: 'Empty range',
};

const SAID: Record<FaultKind, (much: number) => string> = {
  halo: (v) => `${figure(v)} px beside it`,
  astray: (v) => `${figure(v * 100)} % of the depth edges`,
  specks: (v) => `${figure(v)} px in all`,
  terraces: (v) => `steps of ${figure(v, 4)}`,
  empty: (v) => `${figure(v, 2)} of depth unused`,
};

export const letterOf = (n: number): string => String.fromCharCode(65 + n);

/** What is found in the map that shows in glasses, each with what cures it. */
export function CheckWay() {
  const store = useDepthStore();
  const active = useDepth((s) => s.active);
  const id = useDepth((s) => s.shot.id);
  // As it is stored: the server looks at every pixel of it.
  const revision = useDepth((s) =>
    s.active === null
      ? (s.document.footage ? s.document : s.shot.document).depth.revision
      : s.shot.document.plates.find((p) => p.id === s.active)?.depth.revision,
  );
  const at = useDepth((s) => s.document.source.moment);
  const faults = useDepth((s) => s.faults);
  useEffect(() => {
    let gone = false;
    const timer = setTimeout(() => {
      api.depthFaults(id, { plate: active, moment: at }).then(
        ({ faults: found }) => {
          if (!gone) store.getState().set({ faults: found });
        },
        (error: unknown) => {
          if (!gone) store.getState().notify('error', `The map could not be looked over. ${(error as Error).message}`);
        },
      );
    }, REST_MS);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [store, id, active, at, revision]);
  if (!faults) return <p className="ct-hint">The map is looked over.</p>;
  if (faults.length === 0)
    return (
      <p className="ct-hint">
        <b>Nothing found:</b> depth edges lie on the picture’s, no specks, no terraces, and all of depth is used.
      </p>
    );
  return (
    <ul className="ct-ingredients ct-faults" aria-label="Found in the map">
      {faults.map((fault, n) => (
        <li key={fault.kind}>
          <span className="ct-fault-letter" aria-hidden>
            {letterOf(n)}
          </span>
          <button
            type="button"
            className="ct-spike"
            aria-label={`Show ${NAMES[fault.kind]}`}
            disabled={!fault.at}
            onClick={() => {
              if (fault.at) store.getState().lookAt?.(fault.at);
            }}
          >
            {NAMES[fault.kind]}
            <small>{SAID[fault.kind](fault.much)}</small>
          </button>
          <Cure fault={fault} />
        </li>
      ))}
    </ul>
  );
}

/** One thing that helps, a press away. */
function Cure({ fault }: { fault: Fault }) {
  const store = useDepthStore();
  const act = (label: string, cure: () => void) => (
    <button type="button" aria-label={`${label}: ${NAMES[fault.kind]}`} onClick={cure}>
      {label}
    </button>
  );
  switch (fault.kind) {
    case 'halo':
    case 'astray':
      return act('Fit', () => {
        const s = store.getState();
        const fitPx = Math.round(Math.min(200, Math.max(10, fault.kind === 'halo' ? 4 * fault.much : 12)));
        s.set({
          opened: { ...s.opened, [s.stage]: 'shape' },
          shape: { ...s.shape, kind: 'fit', where: 'all', fitBy: 'smoothed', fitPx },
          shaping: true,
        });
        s.tryMake({ kind: 'fit', reach: fitPx, edge: s.shape.edge });
      });
    case 'specks':
    case 'terraces':
      return act(fault.kind === 'specks' ? 'Take out' : 'Even out', () => {
        void store.getState().make({ kind: 'mend' });
      });
    case 'empty': {
      const [far, near] = fault.used ?? [0, 1];
      if (far < 0.04 && near > 0.96) return null;
      return act('Stretch', () => {
        const beads = [
          { from: far, to: 0 },
          { from: near, to: 1 },
        ];
        void store.getState().make({ kind: 'remap', beads, invert: false });
      });
    }
  }
}
