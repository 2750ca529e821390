'use client';

import { memo, useRef } from 'react';
import { parallaxOf } from '@/core/stereo/parallax';
import { NARROWEST_SPAN } from '@/core/shot/cutPlate';
import { figure, signed } from '../numbers';
import { useLive } from '../parts/useLive';
import { useRoom, useRoomStore } from '../room/context';
import { spanPatch, type Hung } from './hang';
import { arrowStep, useDrag } from './useDrag';

interface Props {
  readonly plate: Hung;
  readonly lane: number;
  readonly top: number;
  readonly length: number;
}

/**
 * A plate's depth span: a bar in the greys of its own depths; the one in work has a bead at each end. Hollow where it
 * is hidden.
 */
export const Span = memo(function Span({ plate, lane, top, length }: Props) {
  const active = useRoom((s) => s.active === plate.id);
  const { near, far, hidden, cut } = plate;
  const grey = (d: number): string => {
    const v = Math.round(20 + d * 225);
    return `rgb(${v},${v},${v})`;
  };
  const width = active ? 10 : 8;
  return (
    <>
      <div
        className={`ct-span${cut ? '' : ' planned'}`}
        style={{
          left: lane - width / 2,
          width,
          top: top + far * length,
          height: (near - far) * length,
          background: hidden || !cut ? 'none' : `linear-gradient(${grey(far)}, ${grey(near)})`,
        }}
      />
      {active && cut && !plate.locked && (
        <>
          <Bead plate={plate} end="far" top={top} length={length} />
          <Bead plate={plate} end="near" top={top} length={length} />
        </>
      )}
    </>
  );
});

function Bead({ plate, end, top, length }: { plate: Hung; end: 'near' | 'far'; top: number; length: number }) {
  const room = useRoomStore().getState();
  const budget = useRoom((s) => s.document.budget);
  const start = useRef(plate[end]);
  const { id, near, far } = plate;
  const [at, live] = useLive(plate[end]);
  const set = (value: number): void => {
    const v = Math.round(value * 1000) / 1000;
    const next =
      end === 'near' ? Math.min(1, Math.max(far + NARROWEST_SPAN, v)) : Math.max(0, Math.min(near - NARROWEST_SPAN, v));
    live(next);
    room.try(end === 'near' ? spanPatch(id, next, far) : spanPatch(id, near, next));
  };
  const drag = useDrag({
    onStart: () => {
      start.current = at;
    },
    onMove: (dy) => {
      set(start.current + dy / length);
    },
    onEnd: () => {
      room.keep('Depth span');
    },
  });
  return (
    <div
      className="ct-span-bead"
      style={{ top: top + at * length }}
      role="slider"
      tabIndex={0}
      aria-orientation="vertical"
      aria-label={`${plate.name}, ${end === 'near' ? 'nearest' : 'farthest'} depth`}
      aria-valuemin={0}
      aria-valuemax={1}
      aria-valuenow={at}
      aria-valuetext={`${figure(at, 3)}, ${signed(parallaxOf(at, budget), 1)} px`}
      {...drag}
      onKeyDown={(e) => {
        const step = arrowStep(e);
        if (step === undefined) return;
        e.preventDefault();
        set(at + step);
        room.keepSoon('Depth span');
      }}
    />
  );
}
