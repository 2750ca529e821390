import type { ReactNode } from 'react';
import { figureStep, xOf, type Ruler } from './ruler';

/** The ruler: frames count from 1 as they are handed over. */
export function Figures({ ruler, y }: { ruler: Ruler; y: number }) {
  const step = figureStep(ruler);
  const marks: ReactNode[] = [];
  const fine = step >= 12 ? step / 6 : 1;
  for (let f = 1; f <= ruler.frames; f++) {
    const figured = f % step === 0 || (f === 1 && step > 1);
    if (!figured && f % fine !== 0) continue;
    const x = Math.round(xOf(ruler, f - 1)) + 0.5;
    marks.push(<line key={f} x1={x} x2={x} y1={y} y2={y - (figured ? 6 : 3)} />);
    if (figured)
      marks.push(
        <text key={`t${f}`} x={x} y={y + 15} textAnchor="middle">
          {f}
        </text>,
      );
  }
  return (
    <g className="ct-time-ruler" aria-hidden>
      <line x1={ruler.left} x2={ruler.right} y1={y + 0.5} y2={y + 0.5} />
      {marks}
      <text x={8} y={y + 15}>
        frames
      </text>
    </g>
  );
}
