'use client';

import type { FillEdit } from '@/core/fill/edits';
import type { Point } from '@/core/raster/geometry';
import { useEffect, useRef, useState } from 'react';
import { useRoom, useRoomStore } from '../room/context';
import type { RoomState } from '../room/state';
import { OpenLine, RoundMark } from './CutMarks';
import type { Hand } from './useCutTools';

export type FillTool = 'clone' | 'copy' | 'line' | 'erase';

const round = (p: Point): Point => ({ x: Math.round(p.x * 10) / 10, y: Math.round(p.y * 10) / 10 });

/** The pen in the fill stage: strokes that clone and erase, pieces and lines. */
export function useFillTools(tool: FillTool | undefined, zoom: number, toScreen: (p: Point) => Point): Hand {
  const store = useRoomStore();
  const hand = useRoom((s) => s.hand);
  const [pen, setPen] = useState<Point | undefined>();
  const [outline, setOutline] = useState<Point[]>([]);
  const [corners, setCorners] = useState<[Point, Point, Point, Point] | undefined>();
  const [line, setLine] = useState<{ from: Point; to: Point } | undefined>();
  const held = useRef<number | 'all' | undefined>(undefined);
  const from = useRef<Point | undefined>(undefined);
  const pressed = useRef(false);
  const trail = useRef<Point[]>([]);
  const latest = useRef({ outline, corners, line });
  latest.current = { outline, corners, line };

  /** Shows an edit as it is being drawn. */
  const draw = (drawing: FillEdit | undefined): void => {
    if (store.getState().drawing !== drawing) store.getState().set({ drawing });
  };
  const clear = (): void => {
    trail.current = [];
    setOutline([]);
    setCorners(undefined);
    setLine(undefined);
    held.current = undefined;
    pressed.current = false;
    draw(undefined);
  };
  useEffect(clear, [tool]);

  const trailEdit = (s: RoomState): FillEdit =>
    tool === 'clone' ? cloneOf(s, trail.current) : eraseOf(s, trail.current);
  const drawTrail = (): void => {
    draw(trailEdit(store.getState()));
  };

  const layDown = (): void => {
    const { outline: points, corners: to } = latest.current;
    if (to && points.length >= 3) store.getState().fillEdit(copyOf(store.getState(), points, to));
    clear();
  };
  // A piece is seen where it comes to lie, also while its settings change.
  useEffect(() => {
    if (tool === 'copy' && corners && outline.length >= 3) draw(copyOf(store.getState(), outline, corners));
  }, [tool, corners, outline, hand]);
  useEffect(() => {
    if (tool !== 'copy' || !corners) return undefined;
    const onKey = (e: KeyboardEvent): void => {
      if (e.key === 'Enter') layDown();
      else if (e.key === 'Escape') clear();
      else return;
      e.preventDefault();
      e.stopImmediatePropagation();
    };
    document.addEventListener('keydown', onKey, { capture: true });
    return () => {
      document.removeEventListener('keydown', onKey, { capture: true });
    };
  });

  const showSource = tool === 'clone' && pen && hand.picked.length > 0;
  /** Where a source lies for the pen: at its distance once that is tied, on its way along with the first stroke, or where it was picked. */
  const sourceAt = (at: Point, n: number): Point => {
    const [first] = trail.current;
    const tied =
      hand.sources[n] ??
      (pressed.current && first ? { dx: hand.picked[n].x - first.x, dy: hand.picked[n].y - first.y } : undefined);
    return tied ? { x: at.x + tied.dx, y: at.y + tied.dy } : hand.picked[n];
  };
  return {
    down: (at, e) => {
      const s = store.getState();
      if (tool === 'clone' && e.altKey) {
        s.set({ hand: { ...s.hand, picked: e.shiftKey ? [...s.hand.picked, at].slice(0, 8) : [at], sources: [] } });
        return;
      }
      if (tool === 'clone' && s.hand.picked.length === 0) {
        s.notify('info', 'Pick where to copy from first: Alt and a click.');
        return;
      }
      pressed.current = true;
      from.current = at;
      if (tool === 'clone' || tool === 'erase') {
        trail.current = [at];
        drawTrail();
      }
      if (tool === 'line') setLine({ from: at, to: at });
      if (tool === 'copy') {
        const { corners: c } = latest.current;
        if (!c) {
          setOutline([at]);
          return;
        }
        const near = c.findIndex((p) => Math.hypot(p.x - at.x, p.y - at.y) * zoom < 10);
        held.current = near >= 0 ? near : 'all';
      }
    },
    move: (at) => {
      setPen(at);
      if (!pressed.current) return;
      if (tool === 'clone' || tool === 'erase') {
        trail.current.push(at);
        drawTrail();
      } else if (tool === 'line') {
        setLine((l) => l && { ...l, to: at });
        if (from.current && Math.hypot(at.x - from.current.x, at.y - from.current.y) * zoom >= 4)
          draw(lineOf(store.getState(), from.current, at));
      } else if (tool === 'copy') {
        const { corners: c } = latest.current;
        if (!c) {
          if (from.current && Math.hypot(at.x - from.current.x, at.y - from.current.y) * zoom > 5) {
            from.current = at;
            setOutline((o) => [...o, at]);
          }
          return;
        }
        const dx = at.x - from.current!.x;
        const dy = at.y - from.current!.y;
        setCorners(
          c.map((p, n) => (held.current === 'all' || held.current === n ? { x: p.x + dx, y: p.y + dy } : p)) as [
            Point,
            Point,
            Point,
            Point,
          ],
        );
        from.current = at;
      }
    },
    up: () => {
      if (!pressed.current) return;
      pressed.current = false;
      const s = store.getState();
      const l = latest.current;
      if ((tool === 'clone' || tool === 'erase') && trail.current.length > 0) {
        const edit = trailEdit(s);
        // The first stroke after picking ties its sources to it.
        if (edit.kind === 'clone' && hand.follows && hand.sources.length === 0)
          s.set({ hand: { ...s.hand, sources: edit.sources } });
        s.fillEdit(edit);
        trail.current = [];
      }
      if (tool === 'line' && l.line) {
        setLine(undefined);
        if (Math.hypot(l.line.to.x - l.line.from.x, l.line.to.y - l.line.from.y) * zoom < 4) {
          draw(undefined);
          s.notify('info', 'A line is drawn from where the edge is known to where it goes on: press, draw, let go.');
          return;
        }
        s.fillEdit(lineOf(s, l.line.from, l.line.to));
      }
      if (tool === 'copy' && !l.corners) {
        if (l.outline.length < 3) {
          setOutline([]);
          s.notify('info', 'Draw around a piece with the button held.');
          return;
        }
        const xs = l.outline.map((p) => p.x);
        const ys = l.outline.map((p) => p.y);
        const [a, b, c, d] = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
        setCorners([
          { x: a, y: b },
          { x: c, y: b },
          { x: c, y: d },
          { x: a, y: d },
        ]);
      }
    },
    hover: setPen,
    doubleClick: () => {
      if (tool === 'copy' && latest.current.corners) layDown();
    },
    overlay: (
      <>
        {pen && (tool === 'clone' || tool === 'erase') && (
          <RoundMark
            at={toScreen(pen)}
            zoom={zoom}
            size={hand.size}
            says={tool === 'clone' ? (hand.picked.length === 0 ? 'no source' : 'clone') : 'erase'}
          />
        )}
        {showSource &&
          hand.picked.map((_, n) => {
            const p = toScreen(sourceAt(pen, n));
            return (
              <div
                key={n}
                className="ct-brush ct-source"
                style={{ left: p.x, top: p.y, width: hand.size * zoom, height: hand.size * zoom }}
              />
            );
          })}
        {outline.length > 1 && <OpenLine points={outline.map(toScreen)} corners={[]} />}
        {corners && <OpenLine points={[...corners, corners[0]].map(toScreen)} corners={corners.map(toScreen)} />}
        {line && <OpenLine points={[line.from, line.to].map(toScreen)} corners={[line.from, line.to].map(toScreen)} />}
      </>
    ),
    cursor: 'crosshair',
  };
}

/** A clone stroke. Sources that follow keep the distance that the first stroke after picking gave them. */
function cloneOf({ hand }: RoomState, trail: readonly Point[]): Extract<FillEdit, { kind: 'clone' }> {
  const first = trail[0];
  const sources =
    hand.follows && hand.sources.length > 0
      ? hand.sources
      : hand.picked.map((p) => ({
          dx: Math.round((p.x - first.x) * 10) / 10,
          dy: Math.round((p.y - first.y) * 10) / 10,
        }));
  const { size, hardness, strength, scale, turn, flip, jitter, seamless, beyond } = hand;
  // The seed is the stroke's own from its first point on, so that jitter stands still while it is drawn.
  return {
    kind: 'clone',
    size,
    hardness,
    strength,
    points: thin(trail, size),
    sources,
    scale,
    turn,
    flip,
    jitter,
    seed: Math.abs(Math.round(first.x * 7919 + first.y)) % 1e9,
    seamless,
    beyond,
  };
}

const eraseOf = ({ hand: { size, hardness, strength } }: RoomState, trail: readonly Point[]): FillEdit => ({
  kind: 'erase',
  size,
  hardness,
  strength,
  points: thin(trail, size),
});

const lineOf = ({ hand: { lineWidth, beyond } }: RoomState, from: Point, to: Point): FillEdit => ({
  kind: 'line',
  from: round(from),
  to: round(to),
  width: lineWidth,
  beyond,
});

const copyOf = (
  { hand: { soft, seamless, beyond } }: RoomState,
  points: readonly Point[],
  corners: readonly Point[],
): FillEdit => ({
  kind: 'copy',
  points: points.slice(0, 5000).map(round),
  corners: corners.map(round) as [Point, Point, Point, Point],
  soft,
  seamless,
  beyond,
});

function thin(points: readonly Point[], size: number): Point[] {
  const kept: Point[] = [];
  points.forEach((p, n) => {
    const last = kept[kept.length - 1];
    if (!last || n === points.length - 1 || Math.hypot(p.x - last.x, p.y - last.y) >= size / 6) kept.push(round(p));
  });
  return kept.slice(0, 5000);
}
