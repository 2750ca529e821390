import { useRef } from 'react';
import { arrowStep, useDrag } from '../../depth-board/useDrag';
import { signed } from '../../numbers';
import { useRoom, useRoomStore } from '../../room/context';

/** An arrow key changes it by so many px; the board's steps are of depth. */
const KEY_PX = 50;
const ENDS = [
  { end: 'farPx', name: 'Farthest' },
  { end: 'nearPx', name: 'Nearest' },
] as const;

interface ScriptEndsProps {
  readonly x: number;
  /** Where a parallax lies, css px. */
  y(px: number): number;
  /** Px of parallax to one css px. */
  readonly perPx: number;
  /** True while a hand holds one: the scale stays as it was. */
  onHold(holds: boolean): void;
}

/** The budget's two ends at the frame that is seen, to be dragged up and down; a new key is set where none is. */
export function ScriptEnds({ x, y, perPx, onHold }: ScriptEndsProps) {
  return ENDS.map(({ end, name }) => <End key={end} {...{ end, name, x, y, perPx, onHold }} />);
}

interface EndProps extends ScriptEndsProps {
  readonly end: (typeof ENDS)[number]['end'];
  readonly name: string;
}

function End({ end, name, x, y, perPx, onHold }: EndProps) {
  const store = useRoomStore();
  const px = useRoom((s) => s.document.budget[end]);
  const moment = useRoom((s) => s.moment);
  const begun = useRef({ px, perPx });
  const set = (to: number): void => {
    const { budget } = store.getState().document;
    // The nearest stays nearer than the farthest, and both within what a budget may hold.
    const limits = end === 'nearPx' ? [-4000, budget.farPx - 0.1] : [budget.nearPx + 0.1, 4000];
    const next = Math.min(limits[1], Math.max(limits[0], Math.round(to * 10) / 10));
    store.getState().try({ budget: { ...budget, [end]: next } });
  };
  const label = (): string => `${name} ${signed(store.getState().document.budget[end], 1)} px at frame ${moment + 1}`;
  const drag = useDrag({
    onStart: () => {
      begun.current = { px, perPx };
      onHold(true);
    },
    onMove: (dy) => {
      set(begun.current.px - dy * begun.current.perPx);
    },
    onEnd: () => {
      onHold(false);
      store.getState().keep(label());
    },
  });
  return (
    <g
      className="ct-script-handle"
      role="slider"
      tabIndex={0}
      aria-label={`${name} at the frame that is seen, px`}
      aria-valuenow={px}
      aria-valuetext={`${signed(px, 1)} px at frame ${moment + 1}`}
      {...drag}
      onKeyDown={(e) => {
        const step = e.key === 'ArrowUp' || e.key === 'ArrowDown' ? arrowStep(e) : undefined;
        if (step === undefined) return;
        e.preventDefault();
        e.stopPropagation();
        set(px - step * KEY_PX);
        store.getState().keepSoon(label());
      }}
    >
      <rect x={x - 7} y={y(px) - 3} width={14} height={6} rx={3} />
      <rect className="ct-time-hit" x={x - 10} y={y(px) - 8} width={20} height={16} />
    </g>
  );
}
