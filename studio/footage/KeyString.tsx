import { useRoom, useRoomStore } from '../room/context';
import { xOf, type Ruler } from '../time/ruler';

interface KeyStringProps {
  readonly ruler: Ruler;
  readonly y: number;
  /** What hangs on it. */
  readonly name: string;
  /** What its beads are called. */
  readonly label: string;
  /** `gone`: from there on it is not to be seen. */
  readonly keys: readonly { readonly frame: number; readonly gone?: boolean }[];
}

/** A string with a bead on every frame that has something of its own; a press goes there. */
export function KeyString({ ruler, y, name, label, keys }: KeyStringProps) {
  const store = useRoomStore();
  const moment = useRoom((s) => s.moment);
  return (
    <g aria-label={`${label}s`}>
      <text x={8} y={y + 4} className="ct-time-name">
        {name}
      </text>
      <line className="ct-time-cord" x1={ruler.left} x2={ruler.right} y1={y} y2={y} />
      {keys.map(({ frame, gone }) => {
        const x = xOf(ruler, frame);
        return (
          <g
            key={frame}
            className={`ct-time-bead ct-time-still${gone ? ' ct-time-gone' : ''}`}
            role="button"
            tabIndex={0}
            aria-label={`${label} at frame ${frame + 1}${gone ? ', not seen' : ''}`}
            onPointerDown={(e) => {
              e.stopPropagation();
              store.getState().roll(false);
              store.getState().goTo(frame);
            }}
            onKeyDown={(e) => {
              if (e.key === 'Enter') store.getState().goTo(frame);
            }}
          >
            {frame === moment && <circle className="ct-time-ring" cx={x} cy={y} r={9} />}
            <circle cx={x} cy={y} r={6} />
            <circle className="ct-time-hit" cx={x} cy={y} r={11} />
          </g>
        );
      })}
    </g>
  );
}
