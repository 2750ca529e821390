import { useRef, useState } from 'react';
import { withKeyMoved, type Footage } from '@/core/shot/document';
import { signed } from '../../numbers';
import { useRoom, useRoomStore } from '../../room/context';
import { frameOf, xOf, type Ruler } from '../../time/ruler';
import { stepOf } from '../../time/step';
import { keepScript } from './keepScript';

interface ScriptBeadProps {
  readonly ruler: Ruler;
  readonly y: number;
  readonly script: Footage['script'];
  readonly index: number;
}

/** A key of the depth script: a press goes there, dragged (or with Alt and the arrows) it goes to another frame. */
export function ScriptBead({ ruler, y, script, index }: ScriptBeadProps) {
  const store = useRoomStore();
  const moment = useRoom((s) => s.moment);
  const dragged = useRef(false);
  const [live, setLive] = useState<number | undefined>();
  const { frame, budget } = script[index];
  const x = xOf(ruler, live ?? frame);
  const moved = (to: number): Footage['script'] => withKeyMoved(script, index, { frame: to, frames: ruler.frames });
  const keep = (to: number): void => {
    const next = moved(to);
    const { frame: at } = next[index];
    if (at === frame) return;
    keepScript(store, next, `Script key to frame ${at + 1}`);
    store.getState().goTo(at);
  };
  return (
    <g
      className="ct-time-bead"
      role="slider"
      tabIndex={0}
      aria-label={`Script key at frame ${frame + 1}, ${signed(budget.nearPx, 1)} to ${signed(budget.farPx, 1)} px`}
      aria-valuemin={1}
      aria-valuemax={ruler.frames}
      aria-valuenow={(live ?? frame) + 1}
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        dragged.current = true;
        store.getState().roll(false);
        store.getState().goTo(frame);
      }}
      onPointerMove={(e) => {
        if (!dragged.current) return;
        const { left } = e.currentTarget.ownerSVGElement!.getBoundingClientRect();
        setLive(moved(frameOf(ruler, e.clientX - left))[index].frame);
      }}
      onPointerUp={() => {
        dragged.current = false;
        setLive(undefined);
        if (live !== undefined) keep(live);
      }}
      onPointerCancel={() => {
        dragged.current = false;
        setLive(undefined);
      }}
      onKeyDown={(e) => {
        const step = stepOf(e);
        if (e.key === 'Enter') store.getState().goTo(frame);
        else if (step !== undefined && e.altKey) keep(frame + step);
        else return;
        e.preventDefault();
        e.stopPropagation();
      }}
    >
      {frame === moment && <circle className="ct-time-ring" cx={x} cy={y} r={9} />}
      <circle cx={x} cy={y} r={6} />
      <circle className="ct-time-hit" cx={x} cy={y} r={11} />
    </g>
  );
}
