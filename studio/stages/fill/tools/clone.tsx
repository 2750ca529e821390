'use client';

import { useRef, useState } from 'react';
import type { FillEdit } from '@/core/fill/edits';
import type { Point } from '@/core/raster/geometry';
import { RoundMark } from '../../../viewer/marks';
import { thinned, type UseTool } from '../../../viewer/tool';
import { useFill, useFillStore, type Hand } from '../slice';
import { useDrawing } from './drawing';

const MOST_SOURCES = 8;

/** Copies by brush from elsewhere on the plate. */
export const useClone: UseTool = ({ zoom, toScreen }) => {
  const store = useFillStore();
  const hand = useFill((s) => s.hand);
  const [pen, setPen] = useState<Point | undefined>();
  const trail = useRef<Point[]>([]);
  const draw = useDrawing();

  /**
   * Where a source lies for the pen: at its distance once that is tied, on its way along with the first stroke, or
   * where it was picked.
   */
  const sourceAt = (at: Point, n: number): Point => {
    const [first] = trail.current;
    const along = first && { dx: hand.picked[n].x - first.x, dy: hand.picked[n].y - first.y };
    const tied = hand.sources[n] ?? along;
    return tied ? { x: at.x + tied.dx, y: at.y + tied.dy } : hand.picked[n];
  };

  return {
    down: (at, { altKey, shiftKey }) => {
      const { hand: now, set, notify } = store.getState();
      if (altKey) {
        const picked = shiftKey ? [...now.picked, at].slice(0, MOST_SOURCES) : [at];
        set({ hand: { ...now, picked, sources: [] } });
      } else if (now.picked.length === 0) notify('info', 'Pick where to copy from first: Alt and a click.');
      else {
        trail.current = [at];
        draw(cloneOf(now, trail.current));
      }
    },
    move: (at) => {
      setPen(at);
      if (trail.current.length === 0) return;
      trail.current.push(at);
      draw(cloneOf(store.getState().hand, trail.current));
    },
    up: () => {
      if (trail.current.length === 0) return;
      const { hand: now, set, fillEdit } = store.getState();
      const edit = cloneOf(now, trail.current);
      trail.current = [];
      // The first stroke after picking ties its sources to it.
      if (now.follows && now.sources.length === 0) set({ hand: { ...now, sources: edit.sources } });
      fillEdit(edit);
    },
    hover: setPen,
    overlay: pen && (
      <>
        <RoundMark
          at={toScreen(pen)}
          zoom={zoom}
          size={hand.size}
          says={hand.picked.length > 0 ? 'clone' : 'no source'}
        />
        {hand.picked.map((_, n) => {
          const { x, y } = toScreen(sourceAt(pen, n));
          const across = hand.size * zoom;
          return (
            <div key={n} className="ct-brush ct-source" style={{ left: x, top: y, width: across, height: across }} />
          );
        })}
      </>
    ),
  };
};

/** A clone stroke. Sources that follow keep the distance that the first stroke after picking gave them. */
function cloneOf(hand: Hand, trail: readonly Point[]): Extract<FillEdit, { kind: 'clone' }> {
  const [first] = trail;
  const tenth = (v: number): number => Math.round(v * 10) / 10;
  const { size, hardness, strength, scale, turn, flip, jitter, seamless, beyond } = hand;
  const sources =
    hand.follows && hand.sources.length > 0
      ? hand.sources
      : hand.picked.map((p) => ({ dx: tenth(p.x - first.x), dy: tenth(p.y - first.y) }));
  // The seed is the stroke's own from its first point on, so that jitter stands still while it is drawn.
  const seed = Math.abs(Math.round(first.x * 7919 + first.y)) % 1e9;
  const points = thinned(trail, size / 6);
  return {
    kind: 'clone',
    size,
    hardness,
    strength,
    points,
    sources,
    scale,
    turn,
    flip,
    jitter,
    seed,
    seamless,
    beyond,
  };
}
