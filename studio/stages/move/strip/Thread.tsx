import { useMemo } from 'react';
import { poseAt } from '@/core/camera/move';
import { speedAt } from '@/core/move/speed';
import { wholeScene } from '@/core/scene/sceneAt';
import type { MovePart } from '@/core/shot/document';
import { useMove, useMoveStore } from '../slice';
import { ROW, TOP } from './measures';
import { xOf, type Ruler } from '../../../time/ruler';

/** Points along the thread in which its thickness is told. */
const POINTS = 96;
/** A thread is so thick at rest and at full speed. */
const THIN = 1.4;
const THICK = 9;

/** What the string does from stop to stop: it is held, or moves so fast at some frames. */
type Way =
  | { readonly held: readonly [number, number] }
  | { readonly frames: readonly number[]; readonly speeds: readonly number[] };

/** A piece of the string: drawn thick where it is fast, or dotted where nothing moves. */
type Piece = { readonly held: readonly [number, number] } | { readonly outline: string };

/** The camera's string: thick where the motion is fast, dots where it is held. Opened, it shows its curve. */
export function Thread({ ruler, move }: { ruler: Ruler; move: MovePart }) {
  const store = useMoveStore();
  const document = useMove((s) => s.document);
  const open = useMove((s) => s.curve);
  const y = TOP + ROW / 2;
  const pieces = useMemo(() => piecesOf(), [document, move, ruler]);
  function piecesOf(): Piece[] {
    const scene = wholeScene(document);
    const last = move.frames - 1;
    const stops = [...new Set([0, ...move.keys.map(({ frame }) => frame), last])];
    const ways = stops.slice(1).map((to, n): Way => {
      const from = stops[n];
      const same = [0.25, 0.5, 0.75, 1].every(
        (share) => JSON.stringify(poseAt(move, from)) === JSON.stringify(poseAt(move, from + (to - from) * share)),
      );
      // A hold jumps at its end: it lies still until then.
      if (same || (move.keys.some((k) => k.frame === from && k.ease === 'hold') && move.pace === 'keys'))
        return { held: [from, to] };
      const count = Math.max(2, Math.ceil((POINTS * (to - from)) / last));
      const frames = Array.from({ length: count + 1 }, (_, i) => from + ((to - from) * i) / count);
      return { frames, speeds: frames.map((f) => speedAt(scene, move, Math.min(f, last - 1))) };
    });
    const most = Math.max(1e-9, ...ways.flatMap((way) => ('speeds' in way ? way.speeds : [])));
    return ways.map((way): Piece => {
      if ('held' in way) return way;
      const half = way.speeds.map((speed) => (THIN + (THICK - THIN) * (speed / most)) / 2);
      const side = (sign: 1 | -1): string[] =>
        way.frames.map((f, i) => `${xOf(ruler, f).toFixed(1)},${(y + sign * half[i]).toFixed(2)}`);
      return { outline: [...side(-1), ...side(1).reverse()].join(' ') };
    });
  }
  const toggle = (): void => {
    store.getState().set({ curve: !open });
  };
  return (
    <g
      className="ct-time-string"
      role="button"
      tabIndex={0}
      aria-expanded={open}
      aria-label="Camera’s string: opens its curve"
      onKeyDown={(e) => {
        if (e.key !== 'Enter') return;
        e.preventDefault();
        toggle();
      }}
    >
      <title>Double click: its curve</title>
      <rect className="ct-time-hit" x={ruler.left} y={TOP} width={ruler.right - ruler.left} height={ROW} />
      {pieces.map((piece, n) =>
        'held' in piece ? (
          <line
            key={n}
            className="ct-time-held"
            x1={xOf(ruler, piece.held[0])}
            x2={xOf(ruler, piece.held[1])}
            y1={y}
            y2={y}
          />
        ) : (
          <polygon key={n} className="ct-time-thread" points={piece.outline} />
        ),
      )}
    </g>
  );
}
