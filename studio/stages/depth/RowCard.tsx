'use client';

import { useEffect, useRef, useState } from 'react';
import { Area, AreaChart, ReferenceLine, XAxis, YAxis } from 'recharts';
import { sceneOf } from '@/core/scene/sceneOf';
import { depthOf } from '@/core/stereo/parallax';
import { Bead } from '../../parts/Bead';
import { useWidth } from '../../parts/useWidth';
import { useDepth, useDepthStore } from './slice';

const HEIGHT = 120;

/** Depth along one row of the picture, seen from above: near is below. */
export function RowCard() {
  const store = useDepthStore();
  const frame = useRef<HTMLDivElement>(null);
  const wide = useWidth(frame, 760);
  const { width, height } = useDepth((s) => s.document.source);
  const row = useDepth((s) => s.relief.row);
  const depths = useRow();
  const screen = useDepth((s) => depthOf(0, s.document.budget));
  const px = Math.min(height - 1, Math.round(row * height));
  const data = depths.map((depth, n) => ({ x: ((n + 0.5) / depths.length) * width, depth }));
  return (
    <div className="ct-remap" ref={frame}>
      <header>
        <b>Cut along row {px}</b> <span>seen from above, column under column</span>
      </header>
      <AreaChart
        width={Math.max(160, wide - 24)}
        height={HEIGHT}
        data={data}
        margin={{ top: 4, right: 4, bottom: 0, left: 0 }}
      >
        <XAxis
          dataKey="x"
          type="number"
          domain={[0, width]}
          tickCount={5}
          unit=" px"
          tick={{ fontSize: 11, fill: 'var(--ct-ink2)' }}
          height={20}
        />
        <YAxis
          type="number"
          domain={[0, 1]}
          reversed
          width={34}
          ticks={[0, 0.5, 1]}
          tick={{ fontSize: 11, fill: 'var(--ct-ink2)' }}
        />
        <Area
          type="linear"
          dataKey="depth"
          stroke="var(--ct-cork-deep)"
          fill="var(--ct-cork)"
          fillOpacity={0.35}
          isAnimationActive={false}
        />
        {screen > 0 && screen < 1 && (
          <ReferenceLine
            y={screen}
            stroke="var(--ct-ink)"
            label={{ value: 'screen', position: 'insideTopLeft', fontSize: 11 }}
          />
        )}
      </AreaChart>
      <Bead
        label="Row"
        unit="px"
        value={px}
        {...{ min: 0, max: height - 1, step: 1 }}
        onTry={(v) => {
          const s = store.getState();
          s.set({ relief: { ...s.relief, row: v / height } });
        }}
      />
    </div>
  );
}

/** Depth along the row, once the preview has it. */
function useRow(): readonly number[] {
  const [depths, setDepths] = useState<readonly number[]>([]);
  const preview = useDepth((s) => s.preview);
  const document = useDepth((s) => s.document);
  const row = useDepth((s) => s.relief.row);
  const tickets = useDepth((s) => `${s.rasterTicket} ${s.trialTicket}`);
  useEffect(() => {
    let gone = false;
    void preview?.depthRow(row * document.source.height, sceneOf(document)).then((found) => {
      if (!gone) setDepths(found);
    });
    return () => {
      gone = true;
    };
  }, [preview, document, row, tickets]);
  return depths;
}
