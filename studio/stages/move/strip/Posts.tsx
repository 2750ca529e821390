import { rangeOf, type MovePart } from '@/core/shot/document';
import { useMoveStore } from '../slice';
import { ROW, TOP } from './measures';
import { frameOf, xOf, type Ruler } from './ruler';
import { stepOf } from './step';

/** In and out: the part that is played and handed over. */
export function Posts({ ruler, move, extra }: { ruler: Ruler; move: MovePart; extra: number }) {
  const room = useMoveStore().getState();
  const range = rangeOf(move);
  const post = (which: 'first' | 'last') => {
    const x = xOf(ruler, range[which]) + (which === 'first' ? -10 : 10);
    const set = (frame: number): void => {
      const next =
        which === 'first'
          ? { first: Math.min(frame, range.last - 1), last: range.last }
          : { first: range.first, last: Math.max(frame, range.first + 1) };
      const all = next.first <= 0 && next.last >= move.frames - 1;
      room.tryMove({ range: all ? null : { first: Math.max(0, next.first), last: next.last } });
    };
    return (
      <rect
        className="ct-time-post"
        x={x - 4}
        y={TOP - 6}
        width={8}
        height={ROW + 14 + extra}
        rx={3}
        role="slider"
        tabIndex={0}
        aria-label={which === 'first' ? 'In: first frame' : 'Out: last frame'}
        aria-valuemin={1}
        aria-valuemax={move.frames}
        aria-valuenow={range[which] + 1}
        onPointerDown={(e) => {
          e.stopPropagation();
          e.currentTarget.setPointerCapture(e.pointerId);
        }}
        onPointerMove={(e) => {
          if (!e.currentTarget.hasPointerCapture(e.pointerId)) return;
          const { left } = e.currentTarget.ownerSVGElement!.getBoundingClientRect();
          set(frameOf(ruler, e.clientX - left + (which === 'first' ? 10 : -10)));
        }}
        onPointerUp={() => {
          room.keep('In and out');
        }}
        onKeyDown={(e) => {
          const step = stepOf(e);
          if (step === undefined) return;
          e.preventDefault();
          e.stopPropagation();
          set(range[which] + step);
          room.keepSoon('In and out');
        }}
      />
    );
  };
  return (
    <>
      {post('first')}
      {post('last')}
    </>
  );
}
