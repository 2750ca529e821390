import { useMemo, useState } from 'react';
import { budgetAt, handedSize, withBudgetAt, type Footage } from '@/core/shot/document';
import { comfortPx } from '@/core/stereo/units';
import { depthOf } from '@/core/stereo/parallax';
import { figure, signed } from '../../numbers';
import { useRoom } from '../../room/context';
import { xOf, type Ruler } from '../../time/ruler';
import { ScriptBead } from './ScriptBead';
import { ScriptEnds } from './ScriptEnds';

/** How high the script is, css px. */
export const SCRIPT = 104;
const PAD = 8;
/** The words at the needle are so wide, css px. */
const WORDS = 130;
/** Beyond the comfort band by more than this is worth saying, px. */
const BEYOND = 0.05;

type Budget = Footage['script'][number]['budget'];

/** The depth script over time: farthest above, nearest below, the comfort band behind them, the screen plane beaded. */
export function ScriptRow({ ruler, top }: { ruler: Ruler; top: number }) {
  const document = useRoom((s) => s.document);
  const moment = useRoom((s) => s.moment);
  const { footage, viewing, budget } = document;
  const across = handedSize(document).width;
  const comfort = useMemo(() => comfortPx(across, viewing), [across, viewing]);
  const stored = footage?.script;
  const seen = document.source.moment ?? 0;
  // What a hand tries belongs to the frame that is seen.
  const script = useMemo(() => {
    if (!stored || stored.length === 0) return stored;
    const { nearPx, farPx } = budgetAt(stored, seen);
    return nearPx === budget.nearPx && farPx === budget.farPx ? stored : withBudgetAt(stored, seen, budget);
  }, [stored, seen, budget]);
  const [held, setHeld] = useState<readonly [most: number, least: number] | undefined>();
  const frames = useMemo(
    () =>
      Array.from({ length: ruler.frames }, (_, n): Budget =>
        script && script.length > 0 ? budgetAt(script, n) : budget,
      ),
    [script, budget, ruler.frames],
  );
  if (!footage || !script) return null;
  const fits = [
    Math.max(comfort.farPx, ...frames.map(({ farPx }) => farPx), 1),
    Math.min(comfort.nearPx, ...frames.map(({ nearPx }) => nearPx), -1),
  ] as const;
  const [most, least] = held ?? fits;
  const y = (px: number): number => top + PAD + ((most - px) / (most - least)) * (SCRIPT - 2 * PAD);
  const line = (end: (b: Budget) => number): string =>
    frames.map((b, n) => `${xOf(ruler, n).toFixed(1)},${y(end(b)).toFixed(1)}`).join('L');
  const near = line((b) => b.nearPx);
  const far = line((b) => b.farPx);
  const back = far.split('L').reverse().join('L');
  const over = frames.map((b) => Math.max(comfort.nearPx - b.nearPx, b.farPx - comfort.farPx));
  const worst = over.indexOf(Math.max(...over));
  // The words stand where there is room beside the needle.
  const leftOf = xOf(ruler, moment) + WORDS > ruler.right;
  const from = over.findIndex((v) => v > BEYOND);
  return (
    <g className="ct-script" aria-label="Depth script">
      <defs>
        <clipPath id="ct-beyond-band">
          <rect x={ruler.left - 4} y={top} width={ruler.right - ruler.left + 8} height={y(comfort.farPx) - top} />
          <rect
            x={ruler.left - 4}
            y={y(comfort.nearPx)}
            width={ruler.right - ruler.left + 8}
            height={Math.max(0, top + SCRIPT - y(comfort.nearPx))}
          />
        </clipPath>
      </defs>
      <text x={8} y={top + 16} className="ct-time-name">
        Script <tspan className="ct-script-unit">px</tspan>
      </text>
      <rect
        className="ct-script-band"
        x={ruler.left}
        y={y(comfort.farPx)}
        width={ruler.right - ruler.left}
        height={y(comfort.nearPx) - y(comfort.farPx)}
      />
      <path className="ct-script-used" d={`M${near}L${back}Z`} />
      <path className="ct-script-over" d={`M${near}L${back}Z`} clipPath="url(#ct-beyond-band)" />
      <path className="ct-script-end" d={`M${far}`} />
      <path className="ct-script-end" d={`M${near}`} />
      <line className="ct-script-plane" x1={ruler.left} x2={ruler.right} y1={y(0)} y2={y(0)} />
      {[comfort.farPx, 0, comfort.nearPx].map((px) => (
        <text key={px} x={ruler.left - 18} y={y(px) + 4} textAnchor="end">
          {signed(px, 0)}
        </text>
      ))}
      <text x={ruler.left + 14} y={y(frames[0].farPx) + 13}>
        farthest
      </text>
      <text x={ruler.left + 14} y={y(frames[0].nearPx) - 5}>
        nearest
      </text>
      {script.map(({ frame }, index) => (
        <ScriptBead key={frame} {...{ ruler, script, index }} y={y(0)} />
      ))}
      {script.length > 0 && moment === seen && (
        <ScriptEnds
          x={xOf(ruler, moment)}
          y={y}
          perPx={(most - least) / (SCRIPT - 2 * PAD)}
          onHold={(holds) => {
            setHeld(holds ? fits : undefined);
          }}
        />
      )}
      <text
        x={xOf(ruler, moment) + (leftOf ? -12 : 12)}
        y={y(0) - 5}
        textAnchor={leftOf ? 'end' : 'start'}
        className="ct-script-says"
      >
        screen plane {figure(depthOf(0, frames[moment]), 2)}
      </text>
      {from >= 0 && (
        <text x={ruler.right - 4} y={top + SCRIPT - 3} textAnchor="end" className="ct-time-see">
          {figure(over[worst], 1)} px beyond the band{from > 0 ? ` from frame ${from + 1}` : ''}
        </text>
      )}
    </g>
  );
}
