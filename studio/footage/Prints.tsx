import { useEffect, useRef, useState } from 'react';
import { useRoom } from '../room/context';
import type { Ruler } from '../time/ruler';

/** A print with its white edge, and how far apart they hang, css px. */
const WIDE = 47;
const HIGH = 33;
const APART = 8;

/** Small pictures of frames, pinned to a thread, as many as find room. */
export function Prints({ ruler, top }: { ruler: Ruler; top: number }) {
  const shot = useRoom((s) => s.shot.id);
  const { mediaId, width, height } = useRoom((s) => s.document.source);
  const ready = useRoom((s) => s.footage?.proxies.ready ?? 0);
  const many = Math.max(2, Math.min(ruler.frames, Math.floor((ruler.right - ruler.left) / (WIDE + APART))));
  const step = (ruler.frames - 1) / (many - 1);
  const frames = Array.from({ length: many }, (_, n) => Math.round(n * step));
  // A picture of other proportions is shown whole.
  const scale = Math.min((WIDE - 4) / width, (HIGH - 4) / height);
  const [w, h] = [width * scale, height * scale];
  return (
    <g className="ct-prints" aria-hidden>
      <text x={8} y={top + 21} className="ct-time-word">
        Pictures
      </text>
      <line x1={ruler.left} x2={ruler.right} y1={top + 1} y2={top + 1} />
      {frames.map((frame, n) => {
        const space = (ruler.right - ruler.left) / many;
        const x = ruler.left + (n + 0.5) * space - WIDE / 2;
        const shown = Math.round(((x + WIDE / 2 - ruler.left) / (ruler.right - ruler.left)) * (ruler.frames - 1));
        return (
          <g key={frame} transform={`translate(${x} ${top + 2})`}>
            <rect width={WIDE} height={HIGH} rx={1} />
            {shown < ready && (
              <Print
                href={`/api/shots/${shot}/footage/proxy?media=${mediaId}&frame=${shown}`}
                x={(WIDE - w) / 2}
                y={(HIGH - h) / 2}
                width={w}
                height={h}
              />
            )}
            <circle cx={WIDE / 2} cy={-1} r={2.6} />
          </g>
        );
      })}
    </g>
  );
}

interface PrintProps {
  readonly href: string;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** One that could not be fetched is asked for again. */
function Print({ href, ...place }: PrintProps) {
  const [attempt, setAttempt] = useState(0);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(
    () => () => {
      clearTimeout(timer.current);
    },
    [],
  );
  return (
    <image
      key={attempt}
      href={href}
      {...place}
      preserveAspectRatio="none"
      onError={() => {
        timer.current = setTimeout(() => {
          setAttempt((n) => n + 1);
        }, 1000);
      }}
    />
  );
}
