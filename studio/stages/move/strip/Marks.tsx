'use client';

import type { Finding } from '@/core/move/guard/findings';
import { wordsOf } from '../found';
import { Hatch } from '../../../time/Hatch';
import { xOf, type Ruler } from '../../../time/ruler';
import { useMove, useMoveStore } from '../slice';
import { useFindings } from '../useFindings';

/** Where the marks stand in the strip. */
const Y = 40;
/** A letter is about so wide, px. */
const LETTER = 5.9;
/** Words stand at most so far from their mark, px. */
const NEAR = 30;

interface Written {
  readonly x: number;
  readonly end: number;
  readonly words: string;
}

/** The words that find room under their marks; all of them stand under Guard. */
function written(found: readonly Finding[], ruler: Ruler, words: (finding: Finding) => string): Written[] {
  const out: Written[] = [];
  for (const finding of found) {
    const x = xOf(ruler, finding.first);
    const text = words(finding);
    const at = Math.max(x, (out[out.length - 1]?.end ?? 0) + 10);
    const end = at + text.length * LETTER;
    if (at - x < NEAR && end < ruler.right + 12) out.push({ x: at, end, words: text });
  }
  return out;
}

/** Where there is something to see: hatched over its frames, a triangle over the worst, and a click goes there. */
export function Marks({ ruler }: { ruler: Ruler }) {
  const store = useMoveStore();
  const guard = useFindings();
  const document = useMove((s) => s.document);
  if (!guard || guard.found.length === 0) return null;
  const { found } = guard;
  const say = (finding: Finding): string => {
    const { what, much } = wordsOf(finding, document);
    return `${what} ${much}`;
  };
  const see = ({ worst }: Finding): void => {
    const { play, seek, opened, stage, set } = store.getState();
    play(false);
    seek(worst);
    set({ opened: { ...opened, [stage]: 'guard' } });
  };
  return (
    <g className="ct-time-marks">
      <Hatch id="ct-guard" />
      <text x={8} y={Y + 8} className="ct-time-see">
        {found.length} to see
      </text>
      {found.map((finding) => {
        const from = xOf(ruler, finding.first);
        const worst = xOf(ruler, finding.worst);
        return (
          <g
            key={`${finding.kind} ${finding.first} ${finding.side ?? ''} ${finding.plate ?? ''}`}
            role="button"
            tabIndex={0}
            aria-label={`${say(finding)}, worst at frame ${finding.worst + 1}`}
            onPointerDown={(e) => {
              e.stopPropagation();
              see(finding);
            }}
            onKeyDown={(e) => {
              if (e.key === 'Enter') see(finding);
            }}
          >
            <rect x={from - 2} y={Y} width={Math.max(4, xOf(ruler, finding.last) - from + 4)} height={8} />
            <polygon points={`${worst - 4},${Y - 6} ${worst + 4},${Y - 6} ${worst},${Y}`} />
          </g>
        );
      })}
      {written(found, ruler, say).map(({ x, words }) => (
        <text key={`${x} ${words}`} x={x} y={Y + 19} className="ct-time-see">
          {words}
        </text>
      ))}
    </g>
  );
}
