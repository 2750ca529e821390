'use client';

import { useEffect, useRef, useState } from 'react';
import type { FillEdit } from '@/core/fill/edits';
import { rectAround, type Point } from '@/core/raster/geometry';
import { OpenLine } from '../../../viewer/marks';
import { tenths, type UseTool } from '../../../viewer/tool';
import { useFill, useFillStore, type Hand } from '../slice';
import { useDrawing } from './drawing';

type Corners = [Point, Point, Point, Point];
/** How near the pen must come to a corner, css px. */
const REACH = 10;
/** Drawn with the button held, a point is set every so many css px. */
const STEP = 5;
const MOST_POINTS = 5000;

/** Copies a whole piece to where its four corners are drawn. */
export const useCopy: UseTool = ({ zoom, toScreen }) => {
  const store = useFillStore();
  const hand = useFill((s) => s.hand);
  const [outline, setOutline] = useState<Point[]>([]);
  const [corners, setCorners] = useState<Corners | undefined>();
  const held = useRef<number | 'all'>('all');
  const from = useRef<Point | undefined>(undefined);
  const draw = useDrawing();

  const clear = (): void => {
    setOutline([]);
    setCorners(undefined);
    draw(undefined);
  };
  const layDown = (): void => {
    if (corners) store.getState().fillEdit(copyOf(store.getState().hand, outline, corners));
    clear();
  };
  // A piece is seen where it comes to lie, also while its settings change.
  useEffect(() => {
    if (corners) draw(copyOf(hand, outline, corners));
  }, [corners, outline, hand]);

  return {
    down: (at) => {
      from.current = at;
      if (!corners) {
        setOutline([at]);
        return;
      }
      const near = corners.findIndex((p) => Math.hypot(p.x - at.x, p.y - at.y) * zoom < REACH);
      held.current = near >= 0 ? near : 'all';
    },
    move: (at) => {
      const last = from.current;
      if (!last) return;
      if (corners) {
        const dx = at.x - last.x;
        const dy = at.y - last.y;
        const moved = corners.map((p, n) =>
          held.current === 'all' || held.current === n ? { x: p.x + dx, y: p.y + dy } : p,
        );
        setCorners(moved as Corners);
        from.current = at;
      } else if (Math.hypot(at.x - last.x, at.y - last.y) * zoom > STEP) {
        from.current = at;
        setOutline((points) => [...points, at]);
      }
    },
    up: () => {
      from.current = undefined;
      if (corners) return;
      if (outline.length < 3) {
        setOutline([]);
        store.getState().notify('info', 'Draw around a piece with the button held.');
        return;
      }
      const { left, top, right, bottom } = rectAround(outline);
      setCorners([
        { x: left, y: top },
        { x: right, y: top },
        { x: right, y: bottom },
        { x: left, y: bottom },
      ]);
    },
    doubleClick: () => {
      if (corners) layDown();
    },
    key: ({ key }) => {
      if (!corners) return false;
      if (key === 'Enter') layDown();
      else if (key === 'Escape') clear();
      else return false;
      return true;
    },
    overlay: (
      <>
        {outline.length > 1 && <OpenLine points={outline.map(toScreen)} corners={[]} />}
        {corners && <OpenLine points={[...corners, corners[0]].map(toScreen)} corners={corners.map(toScreen)} />}
      </>
    ),
  };
};

const copyOf = ({ soft, seamless, beyond }: Hand, points: readonly Point[], corners: Corners): FillEdit => ({
  kind: 'copy',
  points: points.slice(0, MOST_POINTS).map(tenths),
  corners: corners.map(tenths) as Corners,
  soft,
  seamless,
  beyond,
});
