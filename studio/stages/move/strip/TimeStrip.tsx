'use client';

import { useMemo, useRef, type PointerEvent } from 'react';
import { rangeOf, type MovePart } from '@/core/shot/document';
import { useWidth } from '../../../parts/useWidth';
import { useMove, useMoveStore } from '../slice';
import { CurveCard } from './CurveCard';
import { Posts } from '../../../time/Posts';
import { Figures } from '../../../time/Figures';
import { Marks } from './Marks';
import { CARD, END, HEIGHT, NAMES, ROW, TOP } from './measures';
import { MoveNeedle } from './MoveNeedle';
import { frameOf, type Ruler } from '../../../time/ruler';
import { Thread } from './Thread';
import { TimeBead } from './TimeBead';

/** The strip of time under the picture: the camera's string with its beads, and the frames. */
export function TimeStrip() {
  const move = useMove((s) => s.document.move);
  const filmed = useMove((s) => s.document.footage !== null);
  if (!move && filmed)
    return (
      <p className="ct-time ct-time-empty">
        The camera moves as it was filmed. A <b>ready move</b> at the left adds to that; here it is seen over the frame
        that is held.
      </p>
    );
  if (!move)
    return (
      <p className="ct-time ct-time-empty">
        Nothing moves yet. Choose a <b>ready move</b> at the left: it sets beads on a string here, and plays.
      </p>
    );
  return <Strip move={move} />;
}

function Strip({ move }: { move: MovePart }) {
  const frame = useRef<HTMLDivElement>(null);
  const width = useWidth(frame, 764);
  const { left, right, frames }: Ruler = { left: NAMES, right: width - END, frames: move.frames };
  const ruler = useMemo(() => ({ left, right, frames }), [left, right, frames]);
  const open = useMove((s) => s.curve);
  const extra = open ? CARD : 0;
  const room = useMoveStore().getState();
  const seek = (e: PointerEvent<SVGSVGElement>): void => {
    const { left: x } = e.currentTarget.getBoundingClientRect();
    room.play(false);
    room.seek(frameOf(ruler, e.clientX - x));
  };
  return (
    <div className="ct-time" ref={frame}>
      <svg
        width={width}
        height={HEIGHT + extra}
        role="group"
        aria-label="Time"
        onPointerDown={(e) => {
          if (e.button !== 0) return;
          e.currentTarget.setPointerCapture(e.pointerId);
          seek(e);
        }}
        onDoubleClick={(e) => {
          // The press was taken by the whole strip: what lies under it says the place.
          const { left: x, top: y } = e.currentTarget.getBoundingClientRect();
          const row = e.clientY - y - TOP;
          if (e.clientX - x > left && row > 0 && row < ROW) room.set({ curve: !open });
        }}
        onPointerMove={(e) => {
          if (e.currentTarget.hasPointerCapture(e.pointerId)) seek(e);
        }}
      >
        <Figures ruler={ruler} y={HEIGHT + extra - 24} />
        <text x={8} y={TOP + ROW / 2 + 4} className="ct-time-name">
          Camera
        </text>
        <Posts
          ruler={ruler}
          range={rangeOf(move)}
          top={TOP - 6}
          height={ROW + 14 + extra}
          onTry={(range) => {
            room.tryMove({ range });
          }}
          onKeep={() => {
            room.keep('In and out');
          }}
          onKeepSoon={() => {
            room.keepSoon('In and out');
          }}
        />
        <MoveNeedle ruler={ruler} end={HEIGHT + extra - 24} />
        <Thread ruler={ruler} move={move} />
        {move.keys.map((key, n) => (
          <TimeBead key={n} ruler={ruler} move={move} index={n} />
        ))}
        {open && <CurveCard ruler={ruler} move={move} top={TOP + ROW + 6} />}
        <g transform={`translate(0 ${extra})`}>
          <Marks ruler={ruler} />
        </g>
      </svg>
    </div>
  );
}
