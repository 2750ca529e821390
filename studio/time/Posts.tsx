import { frameOf, xOf, type Ruler } from './ruler';
import { stepOf } from './step';

/** The first and the last frame of a part. */
export interface FrameRange {
  readonly first: number;
  readonly last: number;
}

interface PostsProps {
  readonly ruler: Ruler;
  readonly range: FrameRange;
  /** Where the posts begin, and how high they are, css px. */
  readonly top: number;
  readonly height: number;
  /** Null: all frames. */
  onTry(range: FrameRange | null): void;
  onKeep(): void;
  onKeepSoon(): void;
}

/** In and out: the part that is played and handed over. */
export function Posts({ ruler, range, top, height, onTry, onKeep, onKeepSoon }: PostsProps) {
  const post = (which: 'first' | 'last') => {
    const x = xOf(ruler, range[which]) + (which === 'first' ? -10 : 10);
    const set = (frame: number): void => {
      const next =
        which === 'first'
          ? { first: Math.min(frame, range.last - 1), last: range.last }
          : { first: range.first, last: Math.max(frame, range.first + 1) };
      const all = next.first <= 0 && next.last >= ruler.frames - 1;
      onTry(all ? null : { first: Math.max(0, next.first), last: Math.min(ruler.frames - 1, next.last) });
    };
    return (
      <rect
        className="ct-time-post"
        x={x - 4}
        y={top}
        width={8}
        height={height}
        rx={3}
        role="slider"
        tabIndex={0}
        aria-label={which === 'first' ? 'In: first frame' : 'Out: last frame'}
        aria-valuemin={1}
        aria-valuemax={ruler.frames}
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
        onPointerUp={onKeep}
        onKeyDown={(e) => {
          const step = stepOf(e);
          if (step === undefined) return;
          e.preventDefault();
          e.stopPropagation();
          set(range[which] + step);
          onKeepSoon();
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
