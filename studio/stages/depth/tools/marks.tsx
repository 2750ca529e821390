'use client';

import { useRef } from 'react';
import { markStrokeSchema, MARKS, type MarkStroke } from '@/core/depth/marks/markStroke';
import type { Point } from '@/core/raster/geometry';
import { figure } from '../../../numbers';
import { thinned, type UseTool } from '../../../viewer/tool';
import { marksNow } from '../making';
import { markGrey, markName, markSays } from '../markNames';
import { greyOf, referenceOf, relateTo, removeMark, saying } from '../MarksWay';
import { useParallaxNote } from '../parallaxNote';
import { useDepth, useDepthStore } from '../slice';

/** So near to a mark's edge it is taken hold of, css px. */
const NEAR = 4;
/** Points of a mark lie so far apart, css px. */
const STEP = 3;
/** A slip is so wide at most, css px. */
const SLIP = 150;

/** Strokes of known depth: drawn, moved, taken away. */
export const useMarks: UseTool = ({ zoom, size, toScreen }) => {
  const store = useDepthStore();
  const marks = useDepth(marksNow);
  const chosen = useDepth((s) => s.marking.chosen);
  const picking = useDepth((s) => s.marking.picking);
  const took = useDepth((s) => s.tookMs);
  const note = useParallaxNote();
  /** The mark that is drawn or moved, and from where. */
  const hand = useRef<
    { readonly id: string; readonly from?: Point; readonly mark: MarkStroke; moved: boolean } | undefined
  >(undefined);

  const begin = (at: Point): void => {
    const s = store.getState();
    const { marking } = s;
    if (marks.length >= MARKS) {
      s.notify('info', `${MARKS} marks are there already. Take some away; the map needs few.`);
      return;
    }
    const as = referenceOf(marking, marks);
    const mark: MarkStroke = {
      id: crypto.randomUUID(),
      name: '',
      points: [at],
      width: marking.width,
      says: saying(marking.says, marking, as),
    };
    hand.current = { id: mark.id, mark, moved: true };
    s.set({ draft: { plate: s.active, marks: [...marks, mark] }, marking: { ...marking, chosen: undefined } });
  };

  return {
    ...(picking ? { cursor: 'pointer' } : {}),
    down: (at) => {
      const under = marks.findLast((mark) => distanceTo(mark.points, at) <= mark.width / 2 + NEAR / zoom);
      const s = store.getState();
      if (s.marking.picking) {
        if (under) relateTo(s, under.id);
        else s.notify('info', 'Press on one of the marks: it is what this one stands to.');
        return;
      }
      if (!under) {
        begin(at);
        return;
      }
      hand.current = { id: under.id, from: at, mark: under, moved: false };
      s.set({ marking: { ...s.marking, chosen: under.id } });
    },
    move: (at, { path }) => {
      const held = hand.current;
      if (!held) return;
      const s = store.getState();
      const { from } = held;
      const with_ = (points: MarkStroke['points']): MarkStroke[] =>
        marksNow(s).map((mark) => (mark.id === held.id ? { ...mark, points } : mark));
      if (!from) {
        const drawn = marksNow(s).find((mark) => mark.id === held.id)?.points ?? [];
        const points = thinned([...drawn, ...path.map(({ x, y }) => ({ x, y }))], STEP / zoom).slice(0, 2000);
        s.setMarks(with_(points), { keep: false });
        return;
      }
      const [dx, dy] = [at.x - from.x, at.y - from.y];
      if (!held.moved && Math.hypot(dx, dy) * zoom < NEAR) return;
      held.moved = true;
      s.setMarks(with_(held.mark.points.map((p) => ({ x: p.x + dx, y: p.y + dy }))), { keep: false });
    },
    up: () => {
      const held = hand.current;
      hand.current = undefined;
      if (!held?.moved) return;
      const s = store.getState();
      const drawn = marksNow(s);
      if (!drawn.every((mark) => markStrokeSchema.safeParse(mark).success)) return;
      s.setMarks(drawn, { keep: true });
    },
    key: ({ key }) => {
      if (chosen === undefined) return false;
      const s = store.getState();
      if (key === 'Escape' && s.marking.picking) s.set({ marking: { ...s.marking, picking: false } });
      else if (key === 'Delete' || key === 'Backspace') removeMark(s, chosen);
      else if (key === 'Escape') s.set({ marking: { ...s.marking, chosen: undefined } });
      else return false;
      return true;
    },
    overlay: (
      <>
        <svg className="ct-over" aria-hidden>
          {marks.map((mark) => {
            const path = mark.points.map((p) => Object.values(toScreen(p)).join()).join(' ');
            // A dot is a line of no length.
            const points = mark.points.length > 1 ? path : `${path} ${path}`;
            const wide = Math.max(3, mark.width * zoom);
            return (
              <g key={mark.id} className={mark.id === chosen ? 'ct-mark on' : 'ct-mark'}>
                <polyline points={points} strokeWidth={wide + 5} className="ct-mark-casing" />
                <polyline points={points} strokeWidth={wide + 2} className="ct-mark-line" />
                <polyline points={points} strokeWidth={wide} stroke={greyOf(markGrey(marks, mark))} />
              </g>
            );
          })}
          {marks.map((mark) => {
            const other = mark.says.kind === 'depth' ? undefined : marks.find(({ id }) => id === standsTo(mark));
            if (!other) return null;
            const [a, b] = [toScreen(middleOf(mark)), toScreen(middleOf(other))];
            return <line key={mark.id} className="ct-mark-thread" x1={a.x} y1={a.y} x2={b.x} y2={b.y} />;
          })}
        </svg>
        {marks.map((mark) => {
          // At the end of its stroke, or before its beginning where it would leave the picture.
          const half = Math.max(3, mark.width * zoom) / 2 + 8;
          const end = toScreen(mark.points[mark.points.length - 1]);
          const begin = toScreen(mark.points[0]);
          const beside = end.x + half + SLIP > size.width;
          const side = beside ? { right: size.width - begin.x + half } : { left: end.x + half };
          return (
            <div
              key={mark.id}
              className={mark.id === chosen ? 'ct-slip ct-mark-slip on' : 'ct-slip ct-mark-slip'}
              style={{ ...side, top: (beside ? begin.y : end.y) - 12 }}
            >
              {mark.name && `${markName(marks, mark.id)} `}
              <b>{markSays(marks, mark)}</b>
              {mark.says.kind === 'depth' && <span> {note(mark.says.depth)}</span>}
            </div>
          );
        })}
        {marks.length > 0 && took !== undefined && (
          <div className="ct-viewer-note ct-marks-note">
            <span>
              from <b>{marks.length === 1 ? '1 mark' : `${marks.length} marks`}</b>, {figure(took)} ms
            </span>
          </div>
        )}
      </>
    ),
  };
};

const standsTo = ({ says }: MarkStroke): string | undefined => (says.kind === 'depth' ? undefined : says.as);
const middleOf = ({ points }: MarkStroke): Point => points[Math.floor(points.length / 2)];

/** How far a place lies from a line. */
function distanceTo(points: readonly Point[], { x, y }: Point): number {
  let least = Infinity;
  for (let n = 0; n < points.length; n++) {
    const a = points[Math.max(0, n - 1)];
    const b = points[n];
    const [dx, dy] = [b.x - a.x, b.y - a.y];
    const long = dx * dx + dy * dy;
    const t = long > 0 ? Math.min(1, Math.max(0, ((x - a.x) * dx + (y - a.y) * dy) / long)) : 0;
    least = Math.min(least, Math.hypot(x - a.x - t * dx, y - a.y - t * dy));
  }
  return least;
}
