'use client';

import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { Area, ComposedChart, Line, XAxis, YAxis } from 'recharts';
import { remapTable, type RemapBead } from '@/core/depth/remapTable';
import { figure } from '../../numbers';
import { useWidth } from '../../parts/useWidth';
import { useDepth, useDepthStore } from './slice';

const HEIGHT = 150;
const BINS = 96;
const MOST_BEADS = 16;
/** Beads lie so far apart at least, of depth. */
const APART = 0.01;
const STEP = 0.01;

/** The curve of a remap with the map's depths behind it: depth in across, depth out up. */
export function RemapCard() {
  const store = useDepthStore();
  const frame = useRef<HTMLDivElement>(null);
  const wide = useWidth(frame, 760);
  const { beads, invert } = useDepth((s) => s.remap);
  const chosen = useDepth((s) => s.remapBead);
  const counts = useCounts();
  const data = useMemo(() => {
    const table = remapTable(beads, invert);
    const most = Math.max(1, ...counts);
    return Array.from({ length: BINS + 1 }, (_, n) => ({
      from: n / BINS,
      to: table[Math.round((n / BINS) * 65535)],
      // Rare depths would not be seen beside frequent ones.
      many: Math.sqrt((counts[Math.min(BINS - 1, n)] ?? 0) / most) * 0.8,
    }));
  }, [beads, invert, counts]);
  const width = Math.max(120, wide - 24);
  const dragged = useRef<number | undefined>(undefined);
  const x = (v: number): number => v * width;
  const y = (v: number): number => (1 - v) * HEIGHT;
  const shown = (bead: RemapBead): number => (invert ? 1 - bead.to : bead.to);
  const put = (n: number, bead: RemapBead): void => {
    store.getState().setRemap({ beads: beads.map((b, k) => (k === n ? between(beads, n, bead) : b)), invert });
  };
  const placeOf = (e: PointerEvent): RemapBead => {
    const box = e.currentTarget.closest('svg')!.getBoundingClientRect();
    const to = 1 - (e.clientY - box.top) / HEIGHT;
    return { from: held((e.clientX - box.left) / width), to: held(invert ? 1 - to : to) };
  };
  const add = (e: PointerEvent): void => {
    const bead = placeOf(e);
    const n = beads.findIndex((b) => b.from > bead.from);
    const before = beads[n - 1];
    const room = n > 0 && bead.from - before.from >= APART && beads[n].from - bead.from >= APART;
    if (!room || beads.length >= MOST_BEADS) return;
    const s = store.getState();
    s.setRemap({ beads: [...beads.slice(0, n), bead, ...beads.slice(n)], invert });
    s.set({ remapBead: n });
    dragged.current = n;
  };
  const remove = (n: number): void => {
    if (beads.length <= 2) return;
    const s = store.getState();
    s.setRemap({ beads: beads.filter((_, k) => k !== n), invert });
    s.set({ remapBead: 0 });
  };
  const key = (e: KeyboardEvent, n: number): void => {
    const steps: Record<string, readonly [number, number]> = {
      ArrowLeft: [-STEP, 0],
      ArrowRight: [STEP, 0],
      ArrowUp: [0, STEP],
      ArrowDown: [0, -STEP],
    };
    const by = steps[e.key] as readonly [number, number] | undefined;
    if (by) put(n, { from: held(beads[n].from + by[0]), to: held(beads[n].to + (invert ? -by[1] : by[1])) });
    else if (e.key === 'Delete' || e.key === 'Backspace') remove(n);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  return (
    <section className="ct-remap" aria-label="Curve of the remap" ref={frame}>
      <header>
        <b>Remap</b> <span>depth in across, depth out up; press on the curve for a bead, Delete takes one away</span>
      </header>
      <div className="ct-remap-chart" style={{ width, height: HEIGHT }}>
        <ComposedChart width={width} height={HEIGHT} data={data} margin={{ top: 0, right: 0, bottom: 0, left: 0 }}>
          <XAxis hide type="number" dataKey="from" domain={[0, 1]} />
          <YAxis hide domain={[0, 1]} />
          <Area dataKey="many" type="step" fill="#DDB98A" fillOpacity={0.8} stroke="none" isAnimationActive={false} />
          <Line dataKey="to" dot={false} stroke="#7A4A1C" strokeWidth={2} isAnimationActive={false} />
        </ComposedChart>
        <svg
          width={width}
          height={HEIGHT}
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId);
            add(e);
          }}
          onPointerMove={(e) => {
            if (dragged.current !== undefined) put(dragged.current, placeOf(e));
          }}
          onPointerUp={() => {
            dragged.current = undefined;
          }}
        >
          <line className="ct-remap-straight" x1={0} y1={HEIGHT} x2={width} y2={0} />
          <rect className="ct-remap-clipped" x={0} y={0} width={x(beads[0].from)} height={HEIGHT} />
          <rect
            className="ct-remap-clipped"
            x={x(beads[beads.length - 1].from)}
            y={0}
            width={width - x(beads[beads.length - 1].from)}
            height={HEIGHT}
          />
          {beads.map((bead, n) => (
            <circle
              key={n}
              className={n === chosen ? 'on' : ''}
              cx={x(bead.from)}
              cy={y(shown(bead))}
              r={7}
              tabIndex={0}
              role="slider"
              aria-label={`Bead ${n + 1}: depth in`}
              aria-valuemin={0}
              aria-valuemax={1}
              aria-valuenow={bead.from}
              aria-valuetext={`in ${figure(bead.from, 2)}, out ${figure(shown(bead), 2)}`}
              onFocus={() => {
                store.getState().set({ remapBead: n });
              }}
              onKeyDown={(e) => {
                key(e, n);
              }}
              onPointerDown={(e) => {
                e.stopPropagation();
                e.currentTarget.closest('svg')!.setPointerCapture(e.pointerId);
                store.getState().set({ remapBead: n });
                dragged.current = n;
              }}
            />
          ))}
        </svg>
      </div>
      <div className="ct-remap-greys" style={{ width }} aria-hidden />
    </section>
  );
}

const held = (v: number): number => Math.min(1, Math.max(0, Math.round(v * 1000) / 1000));

/** A bead where it may lie between its neighbours. */
function between(beads: readonly RemapBead[], n: number, { from, to }: RemapBead): RemapBead {
  const least = n > 0 ? beads[n - 1].from + APART : 0;
  const most = n < beads.length - 1 ? beads[n + 1].from - APART : 1;
  return { from: Math.min(most, Math.max(least, from)), to };
}

/** How many pixels of the plate's own map lie at each depth, before it is remapped. */
function useCounts(): readonly number[] {
  const preview = useDepth((s) => s.preview);
  const active = useDepth((s) => s.active);
  const fetched = useDepth((s) => s.rasterTicket);
  const [counts, setCounts] = useState<readonly number[]>([]);
  useEffect(() => {
    let gone = false;
    void preview?.depthCounts(BINS, active).then((found) => {
      if (!gone) setCounts(found);
    });
    return () => {
      gone = true;
    };
  }, [preview, active, fetched]);
  return counts;
}
