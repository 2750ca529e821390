import { xOf, type Ruler } from './ruler';
import { stepOf } from './step';

interface NeedleProps {
  readonly ruler: Ruler;
  /** Where the ruler lies, css px. */
  readonly end: number;
  /** The frame that is seen, from 0. */
  readonly frame: number;
  /** Frames that up and down lead to, rising. */
  readonly beads: readonly number[];
  onSeek(frame: number): void;
}

/** The frame that is seen: left and right a frame, with Shift ten; up and down from bead to bead. */
export function Needle({ ruler, end, frame, beads, onSeek }: NeedleProps) {
  const x = xOf(ruler, frame);
  return (
    <g
      className="ct-time-needle"
      role="slider"
      tabIndex={0}
      aria-label="Frame"
      aria-valuemin={1}
      aria-valuemax={ruler.frames}
      aria-valuenow={frame + 1}
      onKeyDown={(e) => {
        const step = stepOf(e);
        let to = step === undefined ? undefined : frame + step;
        if (e.key === 'ArrowUp') to = beads.filter((bead) => bead < frame).pop();
        if (e.key === 'ArrowDown') to = beads.find((bead) => bead > frame);
        if (to === undefined) return;
        e.preventDefault();
        e.stopPropagation();
        onSeek(to);
      }}
    >
      <polygon points={`${x - 1.3},4 ${x + 1.3},4 ${x + 0.5},${end} ${x - 0.5},${end}`} />
      <circle cx={x} cy={6} r={5} />
    </g>
  );
}
