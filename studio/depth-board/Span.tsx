'use client';

import { useRef } from 'react';
import { parallaxOf } from '@/core/stereo/parallax';
import { figure, signed } from '../numbers';
import { useRoom, useRoomStore } from '../room/context';
import { arrowStep, useDrag } from './useDrag';

/** The back plate's depth span: a bar in the greys of its own depths with a bead at each end. */
export function Span({ top, length }: { top: number; length: number }) {
  const { near, far } = useRoom((s) => s.document.depth);
  const grey = (d: number): string => { const v = Math.round(20 + d * 225); return `rgb(${v},${v},${v})`; };
  return (
    <>
      <div className="ct-span" style={{ top: top + far * length, height: (near - far) * length, background: `linear-gradient(${grey(far)}, ${grey(near)})` }} />
      <Bead end="far" top={top} length={length} />
      <Bead end="near" top={top} length={length} />
    </>
  );
}

/** Narrowest span that still stretches a map. */
export const NARROWEST = 0.02;

function Bead({ end, top, length }: { end: 'near' | 'far'; top: number; length: number }) {
  const room = useRoomStore().getState();
  const { depth, budget } = useRoom((s) => s.document);
  const start = useRef(depth[end]);
  const set = (value: number): void => {
    const { near, far } = depth;
    const v = Math.round(value * 1000) / 1000;
    room.try({ span: end === 'near' ? { far, near: Math.min(1, Math.max(far + NARROWEST, v)) } : { near, far: Math.max(0, Math.min(near - NARROWEST, v)) } });
  };
  const drag = useDrag({ onStart: () => { start.current = depth[end]; }, onMove: (dy) => { set(start.current + dy / length); }, onEnd: () => { room.keep('Depth span'); } });
  return (
    <div
      className="ct-span-bead" style={{ top: top + depth[end] * length }} role="slider" tabIndex={0} aria-orientation="vertical"
      aria-label={`Back plate, ${end === 'near' ? 'nearest' : 'farthest'} depth`} aria-valuemin={0} aria-valuemax={1} aria-valuenow={depth[end]}
      aria-valuetext={`${figure(depth[end], 3)}, ${signed(parallaxOf(depth[end], budget), 1)} px`}
      {...drag}
      onKeyDown={(e) => {
        const step = arrowStep(e);
        if (step === undefined) return;
        e.preventDefault();
        set(depth[end] + step);
        room.keep('Depth span');
      }}
    />
  );
}
