import { useRoom, useRoomStore } from '../room/context';
import { xOf, type Ruler } from '../time/ruler';

/** The string of depth: a bead on every frame that has depth of its own. */
export function DepthString({ ruler, y }: { ruler: Ruler; y: number }) {
  const store = useRoomStore();
  const keys = useRoom((s) => s.document.footage?.keys);
  const moment = useRoom((s) => s.moment);
  if (!keys) return null;
  return (
    <g aria-label="Depth keys">
      <text x={8} y={y + 4} className="ct-time-name">
        Depth
      </text>
      <line className="ct-time-cord" x1={ruler.left} x2={ruler.right} y1={y} y2={y} />
      {keys.map(({ frame }) => {
        const x = xOf(ruler, frame);
        return (
          <g
            key={frame}
            className="ct-time-bead ct-time-still"
            role="button"
            tabIndex={0}
            aria-label={`Depth key at frame ${frame + 1}`}
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
