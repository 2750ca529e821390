'use client';

import { Button } from 'antd';
import { PLAIN_EDGE, type EdgeSettings } from '@/core/matte/choice';
import { Bead } from '../../parts/Bead';
import { SwitchRow } from '../../parts/SwitchRow';
import { useCut as useRoom, useCutStore as useRoomStore } from './slice';

/** What is done to the choice's edge, in the order in which it is done. */
export function EdgeWay() {
  const store = useRoomStore();
  const edge = useRoom((s) => s.choice.edge);
  const hairSize = useRoom((s) => s.hairSize);
  const solving = useRoom((s) => s.solving);
  const set = (part: Partial<EdgeSettings>): void => {
    const s = store.getState();
    s.set({ choice: { ...s.choice, edge: { ...s.choice.edge, ...part } } });
  };
  return (
    <>
      <Bead
        label="Offset"
        unit="px"
        value={edge.offsetPx}
        min={-30}
        max={30}
        step={0.5}
        decimals={1}
        onTry={(offsetPx) => {
          set({ offsetPx });
        }}
      />
      <Bead
        label="Solve hair and leaves"
        unit="px"
        value={edge.solvePx}
        min={0}
        max={120}
        step={2}
        onTry={(solvePx) => {
          set({ solvePx });
        }}
      />
      <p className="ct-hint" role="status">
        {solving !== undefined ? (
          <b>Solving the band: {Math.round(solving * 100)} %. Shown quickly meanwhile.</b>
        ) : (
          'Paint over hair and leaves to widen the band there.'
        )}
      </p>
      <Bead
        label="Brush over hair"
        unit="px"
        value={hairSize}
        min={2}
        max={400}
        step={1}
        logarithmic
        onTry={(v) => {
          store.getState().set({ hairSize: Math.max(1, v) });
        }}
      />
      {edge.unsure.length > 0 && (
        <Button
          block
          onClick={() => {
            set({ unsure: edge.unsure.slice(0, -1) });
          }}
        >
          Drop the last hair stroke
        </Button>
      )}
      <Bead
        label="Feather"
        unit="px"
        value={edge.featherPx}
        min={0}
        max={40}
        step={0.5}
        decimals={1}
        onTry={(featherPx) => {
          set({ featherPx });
        }}
      />
      <Bead
        label="Smooth"
        unit="px"
        value={edge.smoothPx}
        min={0}
        max={40}
        step={0.5}
        decimals={1}
        onTry={(smoothPx) => {
          set({ smoothPx });
        }}
      />
      <Bead
        label="Grow to similar colour"
        unit="px"
        value={edge.growPx}
        min={0}
        max={300}
        step={1}
        onTry={(growPx) => {
          set({ growPx });
        }}
      />
      {edge.growPx > 0 && (
        <Bead
          label="Similar means"
          unit="of 255"
          value={edge.growTolerance}
          min={0}
          max={128}
          step={1}
          onTry={(growTolerance) => {
            set({ growTolerance });
          }}
        />
      )}
      <Bead
        label="Fill holes below"
        unit="px"
        value={edge.holesPx}
        min={0}
        max={5000}
        step={10}
        onTry={(holesPx) => {
          set({ holesPx });
        }}
      />
      <Bead
        label="Drop specks below"
        unit="px"
        value={edge.specksPx}
        min={0}
        max={5000}
        step={10}
        onTry={(specksPx) => {
          set({ specksPx });
        }}
      />
      <SwitchRow
        label="Invert the choice"
        checked={edge.invert}
        onChange={(invert) => {
          set({ invert });
        }}
      >
        Invert the choice
      </SwitchRow>
      <Button
        block
        disabled={JSON.stringify(edge) === JSON.stringify(PLAIN_EDGE)}
        onClick={() => {
          set(PLAIN_EDGE);
        }}
      >
        Edge as chosen
      </Button>
    </>
  );
}
