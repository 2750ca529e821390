'use client';

import { useEffect, useMemo, useRef, useState } from 'react';
import { handedSize } from '@/core/shot/document';
import { comfortPx, PARALLAX_UNITS } from '@/core/stereo/units';
import { signed } from '../numbers';
import { useRoom, useRoomStore } from '../room/context';
import { stageOf } from '../stages';
import { Card, type CardForm } from './Card';
import { Cork } from './Cork';
import { Plan } from './plan/Plan';
import { hangCards, hungPlates, PICTURED, spanLanes, type Hung } from './hang';
import { Scale } from './Scale';
import { ScreenTag } from './ScreenTag';
import { Span } from './Span';

const TOP = 68;
/** What the board shows, as words. */
const BOARDS = [
  ['cards', 'cards'],
  ['columns', 'plan'],
  ['rows', 'side'],
] as const;

/** The ruler's length: 560 at a window of 800 px, otherwise what the window leaves, rounded down to 20 px. */
function useRulerLength(): number {
  const [length, setLength] = useState(560);
  useEffect(() => {
    const measure = (): void => {
      setLength(Math.max(240, Math.floor((window.innerHeight - 240) / 20) * 20));
    };
    measure();
    window.addEventListener('resize', measure);
    return () => {
      window.removeEventListener('resize', measure);
    };
  }, []);
  return length;
}

/** The depth board: a ruler of depth on which the plates hang, with the parallax scale, the screen plane and the comfort band. */
export function DepthBoard() {
  const store = useRoomStore();
  const board = useRef<HTMLElement>(null);
  const length = useRulerLength();
  const unit = useRoom((s) => s.unit);
  const { budget, viewing, depth, plates } = useRoom((s) => s.document);
  const across = useRoom((s) => handedSize(s.document).width);
  const active = useRoom((s) => s.active);
  const shows = useRoom((s) => s.board);
  const ownPlan = useRoom((s) => stageOf(s.stage).Plan !== undefined);
  // Cards are drawn anew only where something of theirs has changed.
  const hung = useMemo(() => hungPlates({ depth, plates }), [depth, plates]);
  const [scrolled, setScrolled] = useState(0);
  const { at, heights, lines, scrolls } = hangCards(hung, active, { top: TOP, length }, scrolled);
  // A card that was taken in work comes into view.
  useEffect(() => {
    const n = hung.findIndex((p) => p.id === active);
    if (scrolls === 0 || n < 0) return;
    if (at[n] < TOP || at[n] + heights[n] > TOP + length) setScrolled((was) => was + at[n] - TOP - length / 3);
  }, [active, scrolls === 0]);
  const formOf = (p: Hung): CardForm => {
    if (p.id === active) return 'pictured';
    if (lines) return 'name';
    return hung.length <= PICTURED ? 'pictured' : 'figures';
  };
  const shown = (n: number): boolean => scrolls === 0 || (at[n] >= TOP - 2 && at[n] + heights[n] <= TOP + length + 14);
  const lanes = spanLanes(hung, active);
  const comfort = comfortPx(across, viewing);
  const over = Math.max(comfort.nearPx - budget.nearPx, budget.farPx - comfort.farPx, 0);
  return (
    <aside
      className={shows === 'cards' ? 'ct-board' : 'ct-board unrolled'}
      onWheel={(e) => {
        if (scrolls > 0 && shows === 'cards')
          setScrolled((was) => Math.min(scrolls, Math.max(0, Math.min(was, scrolls) + e.deltaY)));
      }}
      ref={board}
      aria-label="Depth board"
      style={{ '--ruler': `${length}px` } as React.CSSProperties}
    >
      <header>
        <h2>Depth board</h2>
        <div role="radiogroup" aria-label="Unit of parallax">
          {PARALLAX_UNITS.map((u) => (
            <button
              key={u}
              type="button"
              role="radio"
              aria-checked={u === unit}
              className={u === unit ? 'on' : ''}
              onClick={() => {
                store.getState().set({ unit: u });
              }}
            >
              {u}
            </button>
          ))}
        </div>
      </header>
      <div className="ct-board-shows" role="radiogroup" aria-label="The board shows">
        {BOARDS.map(([key, word]) => (
          <button
            key={key}
            type="button"
            role="radio"
            aria-checked={key === shows}
            className={key === shows ? 'on' : ''}
            onClick={() => {
              store.getState().set({ board: key });
            }}
          >
            {word}
          </button>
        ))}
      </div>
      <span className="ct-board-end" style={{ top: TOP - 20 }}>
        far
      </span>
      <span className="ct-board-end" style={{ top: TOP + length + 4 }}>
        near
      </span>
      <Scale top={TOP} length={length} />
      {shows === 'cards' ? <Cork top={TOP} length={length} /> : <Plan axis={shows} top={TOP} length={length} />}
      {shows === 'cards' &&
        hung.map((p, n) => <Span key={p.id ?? 'back'} plate={p} lane={lanes[n]} top={TOP} length={length} />)}
      <ScreenTag top={TOP} length={length} />
      {hung.map(
        (p, n) =>
          shows === 'cards' &&
          shown(n) && (
            <Card
              key={p.id ?? 'back'}
              plate={p}
              y={at[n]}
              height={heights[n]}
              lane={lanes[n]}
              top={TOP}
              length={length}
              form={formOf(p)}
            />
          ),
      )}
      {(shows === 'cards' || !ownPlan) && <Eyes top={TOP + length + 12} />}
      <div
        className="ct-verdict"
        style={{ top: TOP + length + (shows !== 'cards' && ownPlan ? 78 : 60) }}
        role="status"
      >
        {over > 0.05 ? (
          <p className="ct-warn">
            <i className="ct-swatch ct-swatch-beyond" aria-hidden />
            <b>{signed(over, 1).replace('+', '')} px outside the comfort band</b>
          </p>
        ) : (
          <p>
            <i className="ct-swatch" aria-hidden />
            All depths inside the comfort band
          </p>
        )}
        <p className="ct-quiet">
          {signed(comfort.nearPx, 0)} to {signed(comfort.farPx, 0)} px on {viewing.name}
        </p>
      </div>
    </aside>
  );
}

function Eyes({ top }: { top: number }) {
  return (
    <svg className="ct-eyes" style={{ top }} width="60" height="44" aria-hidden>
      <path d="M21 26 L30 6 M39 26 L30 6" />
      <circle cx="12" cy="30" r="9" />
      <circle cx="48" cy="30" r="9" />
      <text x="12" y="34">
        L
      </text>
      <text x="48" y="34">
        R
      </text>
    </svg>
  );
}
