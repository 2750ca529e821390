'use client';

import { useRef } from 'react';
import { depthOf, type Budget } from '@/core/stereo/parallax';
import { figure } from '../numbers';
import { useLive } from '../parts/useLive';
import { useRoom, useRoomStore } from '../room/context';
import { arrowStep, useDrag } from './useDrag';

/** The screen plane. Dragging its tag moves the nearest and the farthest parallax together. */
export function ScreenTag({ top, length }: { top: number; length: number }) {
  const store = useRoomStore();
  const room = store.getState();
  const { budget } = useRoom((s) => s.document);
  const start = useRef<{ budget: Budget; plane: number }>({ budget, plane: 0 });
  const [shown, live] = useLive(onCork(budget));
  const place = (from: Budget, at: number): void => {
    const all = from.farPx - from.nearPx;
    const d = Math.min(1, Math.max(0, at));
    const next = { nearPx: Math.round(-(1 - d) * all * 10) / 10, farPx: Math.round(d * all * 10) / 10 };
    // The tag lies where the rounded budget puts it, before and after the room knows it.
    live(onCork(next));
    room.try({ budget: next });
  };
  const drag = useDrag({
    onStart: () => {
      start.current = { budget, plane: shown };
    },
    onMove: (dy) => {
      place(start.current.budget, start.current.plane + dy / length);
    },
    onEnd: () => {
      room.keep('Screen plane');
    },
  });
  return (
    <div className="ct-screen" style={{ transform: `translateY(${Math.round(top + shown * length)}px)` }}>
      <i aria-hidden />
      <div
        className="ct-screen-tag"
        role="slider"
        tabIndex={0}
        aria-orientation="vertical"
        aria-label="Screen plane"
        aria-valuemin={0}
        aria-valuemax={1}
        aria-valuenow={shown}
        aria-valuetext={`${figure(shown, 3)} of depth, parallax 0`}
        {...drag}
        onKeyDown={(e) => {
          const step = arrowStep(e);
          if (step === undefined) return;
          e.preventDefault();
          place(store.getState().document.budget, shown + step);
          room.keepSoon('Screen plane');
        }}
      >
        screen
      </div>
    </div>
  );
}

/** Where the screen plane lies on the cork, a little beyond its ends at most. */
function onCork(budget: Budget): number {
  const plane = depthOf(0, budget);
  return Math.min(1.02, Math.max(-0.02, Number.isFinite(plane) ? plane : 0.5));
}
