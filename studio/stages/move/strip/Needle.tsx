import { useMove, useMoveStore } from '../slice';
import { xOf, type Ruler } from '../../../time/ruler';
import { stepOf } from '../../../time/step';

/** The frame that is seen. @param end where the ruler lies */
export function Needle({ ruler, end }: { ruler: Ruler; end: number }) {
  const store = useMoveStore();
  const needle = useMove((s) => s.needle);
  const keys = useMove((s) => s.document.move?.keys ?? []);
  const x = xOf(ruler, needle);
  return (
    <g
      className="ct-time-needle"
      role="slider"
      tabIndex={0}
      aria-label="Frame"
      aria-valuemin={1}
      aria-valuemax={ruler.frames}
      aria-valuenow={needle + 1}
      onKeyDown={(e) => {
        const { seek, play } = store.getState();
        const step = stepOf(e);
        const up = e.key === 'ArrowUp';
        let to = step === undefined ? undefined : needle + step;
        if (up || e.key === 'ArrowDown')
          to = up ? keys.filter((k) => k.frame < needle).pop()?.frame : keys.find((k) => k.frame > needle)?.frame;
        if (to === undefined) return;
        e.preventDefault();
        e.stopPropagation();
        play(false);
        seek(to);
      }}
    >
      <polygon points={`${x - 1.3},4 ${x + 1.3},4 ${x + 0.5},${end} ${x - 0.5},${end}`} />
      <circle cx={x} cy={6} r={5} />
    </g>
  );
}
