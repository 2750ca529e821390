'use client';

import { useEffect, useRef, useState } from 'react';
import type { FillEdit } from '@/core/fill/fillEdit';
import { useRoom, useRoomStore } from '../room/context';
import type { RoomState } from '../room/state';
import { OpenLine, RoundMark, Trail } from './CutMarks';
import type { Hand } from './useCutTools';

interface Point { readonly x: number; readonly y: number }
export type FillTool = 'clone' | 'copy' | 'line' | 'erase';

const round = (p: Point): Point => ({ x: Math.round(p.x * 10) / 10, y: Math.round(p.y * 10) / 10 });

/** The pen in the fill stage: strokes that clone and erase, pieces and lines. */
export function useFillTools(tool: FillTool | undefined, zoom: number, toScreen: (p: Point) => Point): Hand {
  const store = useRoomStore();
  const hand = useRoom((s) => s.hand);
  const [pen, setPen] = useState<Point | undefined>();
  const [trail, setTrail] = useState<Point[]>([]);
  const [outline, setOutline] = useState<Point[]>([]);
  const [corners, setCorners] = useState<[Point, Point, Point, Point] | undefined>();
  const [line, setLine] = useState<{ from: Point; to: Point } | undefined>();
  const held = useRef<number | 'all' | undefined>(undefined), from = useRef<Point | undefined>(undefined), pressed = useRef(false);
  const latest = useRef({ trail, outline, corners, line });
  latest.current = { trail, outline, corners, line };

  const clear = (): void => { setTrail([]); setOutline([]); setCorners(undefined); setLine(undefined); held.current = undefined; pressed.current = false; };
  useEffect(clear, [tool]);

  const layDown = (): void => {
    const { outline: points, corners: to } = latest.current;
    if (to && points.length >= 3) store.getState().fillEdit({ kind: 'copy', points: points.map(round), corners: to.map(round) as [Point, Point, Point, Point], soft: hand.soft, seamless: hand.seamless, beyond: hand.beyond });
    clear();
  };
  useEffect(() => {
    if (tool !== 'copy' || !corners) return undefined;
    const onKey = (e: KeyboardEvent): void => {
      if (e.key === 'Enter') layDown(); else if (e.key === 'Escape') clear(); else return;
      e.preventDefault();
      e.stopImmediatePropagation();
    };
    document.addEventListener('keydown', onKey, { capture: true });
    return () => { document.removeEventListener('keydown', onKey, { capture: true }); };
  });

  const showSource = tool === 'clone' && pen && hand.picked.length > 0;
  const sourceAt = (at: Point, n: number): Point => (hand.sources[n] ? { x: at.x + hand.sources[n].dx, y: at.y + hand.sources[n].dy } : hand.picked[n]);
  return {
    down: (at, e) => {
      const s = store.getState();
      if (tool === 'clone' && e.altKey) { s.set({ hand: { ...s.hand, picked: e.shiftKey ? [...s.hand.picked, at].slice(0, 8) : [at], sources: [] } }); return; }
      if (tool === 'clone' && s.hand.picked.length === 0) { s.notify('info', 'Pick where to copy from first: Alt and a click.'); return; }
      pressed.current = true;
      from.current = at;
      if (tool === 'clone' || tool === 'erase') setTrail([at]);
      if (tool === 'line') setLine({ from: at, to: at });
      if (tool === 'copy') {
        const { corners: c } = latest.current;
        if (!c) { setOutline([at]); return; }
        const near = c.findIndex((p) => Math.hypot(p.x - at.x, p.y - at.y) * zoom < 10);
        held.current = near >= 0 ? near : 'all';
      }
    },
    move: (at) => {
      setPen(at);
      if (!pressed.current) return;
      if (tool === 'clone' || tool === 'erase') setTrail((t) => [...t, at]);
      else if (tool === 'line') setLine((l) => l && { ...l, to: at });
      else if (tool === 'copy') {
        const { corners: c } = latest.current;
        if (!c) { if (from.current && Math.hypot(at.x - from.current.x, at.y - from.current.y) * zoom > 5) { from.current = at; setOutline((o) => [...o, at]); } return; }
        const dx = at.x - from.current!.x, dy = at.y - from.current!.y;
        setCorners(c.map((p, n) => (held.current === 'all' || held.current === n ? { x: p.x + dx, y: p.y + dy } : p)) as [Point, Point, Point, Point]);
        from.current = at;
      }
    },
    up: () => {
      if (!pressed.current) return;
      pressed.current = false;
      const s = store.getState(), l = latest.current;
      if ((tool === 'clone' || tool === 'erase') && l.trail.length > 0) { s.fillEdit(tool === 'clone' ? cloneOf(s, l.trail) : { kind: 'erase', size: hand.size, hardness: hand.hardness, strength: hand.strength, points: thin(l.trail, hand.size) }); setTrail([]); }
      if (tool === 'line' && l.line) {
        setLine(undefined);
        if (Math.hypot(l.line.to.x - l.line.from.x, l.line.to.y - l.line.from.y) * zoom < 4) { s.notify('info', 'A line is drawn from where the edge is known to where it goes on: press, draw, let go.'); return; }
        s.fillEdit({ kind: 'line', from: round(l.line.from), to: round(l.line.to), width: hand.lineWidth, beyond: hand.beyond });
      }
      if (tool === 'copy' && !l.corners) {
        if (l.outline.length < 3) { setOutline([]); s.notify('info', 'Draw around a piece with the button held.'); return; }
        const xs = l.outline.map((p) => p.x), ys = l.outline.map((p) => p.y), [a, b, c, d] = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
        setCorners([{ x: a, y: b }, { x: c, y: b }, { x: c, y: d }, { x: a, y: d }]);
      }
    },
    hover: setPen,
    doubleClick: () => { if (tool === 'copy' && latest.current.corners) layDown(); },
    overlay: (
      <>
        {pen && (tool === 'clone' || tool === 'erase') && <RoundMark at={toScreen(pen)} zoom={zoom} size={hand.size} says={tool === 'clone' ? (hand.picked.length === 0 ? 'no source' : 'clone') : 'erase'} />}
        {showSource && hand.picked.map((_, n) => { const p = toScreen(sourceAt(pen, n)); return <div key={n} className="ct-brush ct-source" style={{ left: p.x, top: p.y, width: hand.size * zoom, height: hand.size * zoom }} />; })}
        {trail.length > 0 && <Trail points={trail.map(toScreen)} zoom={zoom} size={hand.size} dark={tool === 'erase'} />}
        {outline.length > 1 && <OpenLine points={outline.map(toScreen)} corners={[]} />}
        {corners && <OpenLine points={[...corners, corners[0]].map(toScreen)} corners={corners.map(toScreen)} />}
        {line && <OpenLine points={[line.from, line.to].map(toScreen)} corners={[line.from, line.to].map(toScreen)} />}
      </>
    ),
    cursor: 'crosshair',
  };
}

/** A clone stroke; the first one after picking ties the source to it. */
function cloneOf(s: RoomState, trail: readonly Point[]): FillEdit {
  const { hand } = s, first = trail[0];
  const tied = hand.follows && hand.sources.length > 0 ? hand.sources : hand.picked.map((p) => ({ dx: Math.round((p.x - first.x) * 10) / 10, dy: Math.round((p.y - first.y) * 10) / 10 }));
  if (hand.follows && hand.sources.length === 0) s.set({ hand: { ...hand, sources: tied } });
  const { size, hardness, strength, scale, turn, flip, jitter, seamless, beyond } = hand;
  return { kind: 'clone', size, hardness, strength, points: thin(trail, size), sources: tied, scale, turn, flip, jitter, seed: trail.length * 7919 + Math.round(first.x), seamless, beyond };
}

function thin(points: readonly Point[], size: number): Point[] {
  const kept: Point[] = [];
  points.forEach((p, n) => { const last = kept[kept.length - 1]; if (!last || n === points.length - 1 || Math.hypot(p.x - last.x, p.y - last.y) >= size / 6) kept.push(round(p)); });
  return kept.slice(0, 5000);
}
