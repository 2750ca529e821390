'use client';

import { useEffect, useRef, type CSSProperties } from 'react';
import type { PlanAxis } from '@/core/scene/plan';
import { parallaxOf } from '@/core/stereo/parallax';
import { figure, signed } from '../../numbers';
import { useRoom, useRoomStore } from '../../room/context';
import { stageOf } from '../../stages';
import { hungPlates, movePatch, type Hung } from '../hang';
import { arrowStep, useDrag } from '../useDrag';
import { apart, downOf, INSIDE, leftOf, OUTSIDE, PLAN_WIDTH, type PlanPlace } from './planPlace';
import { usePlan, type DrawnStrip } from './usePlan';

/** Height of a name slip with its gap, css px. */
const SLIP = 40;

interface Props {
  readonly axis: PlanAxis;
  readonly top: number;
  readonly length: number;
}

/**
 * The board unrolled: the scene from above or from the side, its plates as thick as their spans, and what the stage
 * draws there.
 */
export function Plan({ axis, top, length }: Props) {
  const { Plan: Drawn } = stageOf(useRoom((s) => s.stage));
  const { width, height } = useRoom((s) => s.document.source);
  const document = useRoom((s) => s.document);
  const strips = usePlan(axis, length);
  const place: PlanPlace = { axis, length, across: axis === 'columns' ? width : height };
  const hung = hungPlates(document).filter((p) => p.cut && !p.hidden);
  const back = strips.find(({ id }) => id === null);
  const plates = hung.filter(({ id }) => id !== null);
  const slips = apart(
    hung.map((p) => wantedAt(p, strips, place)),
    SLIP,
    length,
  );
  return (
    <>
      <div className="ct-cork ct-plan" style={{ top: top - 12, height: length + 24 }}>
        <i className="ct-plan-outside" style={{ left: 0 }} />
        <i className="ct-plan-outside" style={{ right: 0 }} />
        <div className="ct-plan-ruled" style={{ height: length }}>
          {back && <Pixels strip={back} place={place} span={document.depth} />}
          {plates.map((p) => {
            const strip = strips.find(({ id }) => id === p.id);
            return strip && strip.first <= strip.last && <Slip key={p.id} plate={p} strip={strip} place={place} />;
          })}
          {!Drawn && <Upright place={place} />}
        </div>
      </div>
      <svg className="ct-plan-over" style={{ top }} width={PLAN_WIDTH} height={length}>
        {Drawn && <Drawn place={place} />}
      </svg>
      {hung.map((p, n) => (
        <Name key={p.id ?? 'back'} plate={p} y={top + slips[n]} strip={strips.find(({ id }) => id === p.id)} />
      ))}
    </>
  );
}

/**
 * Where a plate's name would lie: beside its slip, or above one that leaves no room beside it; the back plate's below
 * the aim.
 */
function wantedAt({ id, near, far }: Hung, strips: readonly DrawnStrip[], place: PlanPlace): number {
  if (id === null) return downOf(place, far) + 22;
  const strip = strips.find((s) => s.id === id);
  const wide = strip !== undefined && strip.last - strip.first > 0.55 * strip.across;
  return wide ? downOf(place, far) - SLIP : downOf(place, (near + far) / 2) - SLIP / 2;
}

/** Where the source camera looks: its lines of sight stand upright here. */
function Upright({ place: { length } }: { place: PlanPlace }) {
  return (
    <svg width={PLAN_WIDTH} height={length} className="ct-plan-lines" aria-hidden>
      {[OUTSIDE, PLAN_WIDTH - OUTSIDE].map((x) => (
        <g key={x}>
          <line className="ct-plan-casing" x1={x} x2={x} y1={0} y2={length} />
          <line className="ct-plan-sight" x1={x} x2={x} y1={0} y2={length} />
        </g>
      ))}
    </svg>
  );
}

/** A surface's pixels, drawn where it lies now. */
function Pixels({ strip, place, span }: { strip: DrawnStrip; place: PlanPlace; span: { near: number; far: number } }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { across, along, data } = strip;
  useEffect(() => {
    canvas.current!.getContext('2d')!.putImageData(new ImageData(new Uint8ClampedArray(data), across, along), 0, 0);
  }, [data, across, along]);
  // Drawn for another span, it is moved and stretched until its own is there.
  const drawn = strip.span.near - strip.span.far;
  const stretch = drawn > 0 ? (span.near - span.far) / drawn : 1;
  const style: CSSProperties = {
    left: OUTSIDE,
    width: INSIDE,
    height: place.length * stretch,
    top: downOf(place, span.far - strip.span.far * stretch),
  };
  return <canvas ref={canvas} className="ct-plan-pixels" width={across} height={along} style={style} />;
}

/** A plate: a slip of paper as thick as its span, dragged along the ruler. */
function Slip({ plate, strip, place }: { plate: Hung; strip: DrawnStrip; place: PlanPlace }) {
  const store = useRoomStore();
  const room = store.getState();
  const active = useRoom((s) => s.active === plate.id);
  const budget = useRoom((s) => s.document.budget);
  const start = useRef(room.document);
  const moved = useRef(false);
  const { id, name, near, far } = plate;
  const label = `Move ${name} in depth`;
  const drag = useDrag({
    onStart: () => {
      start.current = store.getState().document;
      moved.current = false;
    },
    onMove: (dy) => {
      if (Math.abs(dy) > 3) moved.current = true;
      if (moved.current && !plate.locked) room.try(movePatch(start.current, id, dy / place.length));
    },
    onEnd: () => {
      if (moved.current) room.keep(label);
      else room.set({ active: id });
    },
  });
  const left = leftOf(place, (strip.first / strip.across) * place.across - 0.5);
  const right = leftOf(place, ((strip.last + 1) / strip.across) * place.across - 0.5);
  // A plate without thickness can be seen and taken hold of, too.
  const height = Math.max(6, downOf(place, near - far));
  return (
    <div
      className={active ? 'ct-plan-slip on' : 'ct-plan-slip'}
      style={{ left, width: right - left, top: downOf(place, (near + far) / 2) - height / 2, height }}
      role="slider"
      tabIndex={0}
      aria-orientation="vertical"
      aria-label={`${name} in the plan`}
      aria-valuemin={0}
      aria-valuemax={1}
      aria-valuenow={(near + far) / 2}
      aria-valuetext={`${figure(far, 2)} to ${figure(near, 2)}, ${signed(parallaxOf(near, budget), 1)} px`}
      {...drag}
      onKeyDown={(e) => {
        const step = arrowStep(e);
        if (step === undefined || plate.locked) return;
        e.preventDefault();
        room.try(movePatch(store.getState().document, id, step));
        room.keepSoon(label);
      }}
    >
      <div className="ct-plan-cut" style={{ inset: 0 }}>
        <div style={{ position: 'absolute', left: -left, top: -downOf(place, far), height: place.length }}>
          <Pixels strip={strip} place={place} span={plate} />
        </div>
      </div>
    </div>
  );
}

/** A plate's name and parallax, beside it. */
function Name({ plate, y, strip }: { plate: Hung; y: number; strip: DrawnStrip | undefined }) {
  const store = useRoomStore();
  const active = useRoom((s) => s.active === plate.id);
  const budget = useRoom((s) => s.document.budget);
  // On the side where there is more room.
  const middle = strip ? (strip.first + strip.last) / 2 / strip.across : 0;
  const right = plate.id !== null && middle < 0.5;
  return (
    <button
      type="button"
      className={active ? 'ct-plan-name on' : 'ct-plan-name'}
      style={{ top: y, ...(right ? { right: 32 } : { left: 84 }) }}
      onClick={() => {
        store.getState().set({ active: plate.id });
      }}
    >
      <b>{plate.name}</b>
      <span>
        {signed(parallaxOf(plate.far, budget), 1)} to {signed(parallaxOf(plate.near, budget), 1)} px
      </span>
    </button>
  );
}
