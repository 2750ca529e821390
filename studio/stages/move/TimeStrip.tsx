'use client';

import { useMemo, useRef, type KeyboardEvent, type PointerEvent, type ReactNode } from 'react';
import { withKeyAt, withoutKey } from '@/core/camera/editKeys';
import { speedAt } from '@/core/move/speed';
import { wholeScene } from '@/core/scene/sceneAt';
import { rangeOf, type MovePart, type ShotDocument } from '@/core/shot/document';
import { useWidth } from '../../parts/useWidth';
import { Marks } from './Marks';
import { figureStep, frameOf, xOf, type Ruler } from './ruler';
import { useMove, useMoveStore } from './slice';

const TOP = 10;
const ROW = 22;
const HEIGHT = 92;
/** Time begins so far from the left and ends so far from the right. */
const NAMES = 100;
const END = 16;
/** A thread is so thick at rest and at full speed. */
const THIN = 1.4;
const THICK = 9;

/** The strip of time under the picture: the camera's string with its beads, and the frames. */
export function TimeStrip() {
  const move = useMove((s) => s.document.move);
  if (!move)
    return (
      <p className="ct-time ct-time-empty">
        Nothing moves yet. Choose a <b>ready move</b> at the left: it sets beads on a string here, and plays.
      </p>
    );
  return <Strip move={move} />;
}

function Strip({ move }: { move: MovePart }) {
  const frame = useRef<HTMLDivElement>(null);
  const width = useWidth(frame, 764);
  const { left, right, frames }: Ruler = { left: NAMES, right: width - END, frames: move.frames };
  const ruler = useMemo(() => ({ left, right, frames }), [left, right, frames]);
  const room = useMoveStore().getState();
  const seek = (e: PointerEvent<SVGSVGElement>): void => {
    const { left: x } = e.currentTarget.getBoundingClientRect();
    room.play(false);
    room.seek(frameOf(ruler, e.clientX - x));
  };
  return (
    <div className="ct-time" ref={frame}>
      <svg
        width={width}
        height={HEIGHT}
        role="group"
        aria-label="Time"
        onPointerDown={(e) => {
          if (e.button !== 0) return;
          e.currentTarget.setPointerCapture(e.pointerId);
          seek(e);
        }}
        onPointerMove={(e) => {
          if (e.currentTarget.hasPointerCapture(e.pointerId)) seek(e);
        }}
      >
        <Figures ruler={ruler} />
        <text x={8} y={TOP + ROW / 2 + 4} className="ct-time-name">
          Camera
        </text>
        <Thread ruler={ruler} move={move} />
        <Posts ruler={ruler} move={move} />
        <Marks ruler={ruler} />
        <NeedleLine ruler={ruler} />
        {move.keys.map((key, n) => (
          <TimeBead key={n} ruler={ruler} move={move} index={n} />
        ))}
      </svg>
    </div>
  );
}

/** The ruler: frames count from 1 as they are handed over. */
function Figures({ ruler }: { ruler: Ruler }) {
  const y = HEIGHT - 24;
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

/** Points along the thread in which its thickness is told. */
const POINTS = 96;

/** Speeds along the move, px of the source a frame. */
function speedsOf(document: ShotDocument, move: MovePart): number[] {
  const scene = wholeScene(document);
  return Array.from({ length: POINTS }, (_, n) => speedAt(scene, move, ((move.frames - 2) * n) / (POINTS - 1)));
}

/** The camera's string: thick where the motion is fast, dots where it is held. */
function Thread({ ruler, move }: { ruler: Ruler; move: MovePart }) {
  const document = useMove((s) => s.document);
  const y = TOP + ROW / 2;
  const outline = useMemo(() => {
    const speeds = speedsOf(document, move);
    const most = Math.max(...speeds, 1e-9);
    const at = (n: number): number => xOf(ruler, ((ruler.frames - 1) * n) / (POINTS - 1));
    const half = speeds.map((v) => (THIN + (THICK - THIN) * (v / most)) / 2);
    const above = half.map((h, n) => `${at(n).toFixed(1)},${(y - h).toFixed(2)}`);
    const below = half.map((h, n) => `${at(n).toFixed(1)},${(y + h).toFixed(2)}`).reverse();
    return [...above, ...below].join(' ');
  }, [document, move, ruler, y]);
  return <polygon className="ct-time-thread" points={outline} aria-hidden />;
}

/** In and out: the part that is played and handed over. */
function Posts({ ruler, move }: { ruler: Ruler; move: MovePart }) {
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
        height={ROW + 14}
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

/** Left and right: a frame, with Shift ten. */
function stepOf(e: KeyboardEvent): number | undefined {
  const size = e.shiftKey ? 10 : 1;
  if (e.key === 'ArrowLeft') return -size;
  return e.key === 'ArrowRight' ? size : undefined;
}

function NeedleLine({ ruler }: { ruler: Ruler }) {
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
      <polygon points={`${x - 1.3},4 ${x + 1.3},4 ${x + 0.5},${HEIGHT - 24} ${x - 0.5},${HEIGHT - 24}`} />
      <circle cx={x} cy={6} r={5} />
    </g>
  );
}

/** A bead: drawn along the string, chosen by a press. */
function TimeBead({ ruler, move, index }: { ruler: Ruler; move: MovePart; index: number }) {
  const store = useMoveStore();
  const chosen = useMove((s) => s.bead === index);
  const key = move.keys[index];
  const x = xOf(ruler, key.frame);
  const y = TOP + ROW / 2;
  const choose = (): void => {
    const { set, seek, play } = store.getState();
    play(false);
    set({ bead: index });
    seek(move.keys[index].frame);
  };
  const moveTo = (frame: number): void => {
    const { document, tryMove, seek } = store.getState();
    if (!document.move) return;
    const keys = withKeyAt(document.move.keys, index, frame, document.move.frames);
    tryMove({ keys });
    seek(keys[index].frame);
  };
  return (
    <g
      className={chosen ? 'ct-time-bead on' : 'ct-time-bead'}
      role="slider"
      tabIndex={0}
      aria-label={`Camera, bead ${index + 1}`}
      aria-valuemin={1}
      aria-valuemax={move.frames}
      aria-valuenow={key.frame + 1}
      aria-valuetext={`frame ${key.frame + 1}`}
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        choose();
      }}
      onPointerMove={(e) => {
        if (!e.currentTarget.hasPointerCapture(e.pointerId)) return;
        const { left } = e.currentTarget.ownerSVGElement!.getBoundingClientRect();
        const frame = frameOf(ruler, e.clientX - left);
        if (frame !== store.getState().document.move?.keys[index].frame) moveTo(frame);
      }}
      onPointerUp={() => {
        store.getState().keep('Move a bead');
      }}
      onFocus={() => {
        if (store.getState().bead !== index) choose();
      }}
      onKeyDown={(e) => {
        const s = store.getState();
        const step = stepOf(e);
        if (step !== undefined && e.altKey) {
          moveTo(key.frame + step);
          s.keepSoon('Move a bead');
        } else if (e.key === 'Delete' && move.keys.length > 1) {
          s.tryMove({ keys: withoutKey(move.keys, index) });
          s.keep('Take a bead off');
          s.set({ bead: null });
        } else return;
        e.preventDefault();
        e.stopPropagation();
      }}
    >
      <circle className="ct-time-hit" cx={x} cy={y} r={11} />
      {chosen && <circle className="ct-time-ring" cx={x} cy={y} r={9} />}
      <circle cx={x} cy={y} r={6} />
    </g>
  );
}
