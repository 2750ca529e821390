'use client';

import { useRef, useState } from 'react';
import type { Point } from '@/core/raster/geometry';
import { OpenLine } from '../../../viewer/marks';
import { withoutTwins, type Bench, type Tool, type UseTool } from '../../../viewer/tool';
import { targetOf, useDepthStore } from '../slice';

/** Drawn with the button held, a corner is set every so many css px. */
const STEP = 5;

/** Corners set one after another, or drawn with the button held. @param onClosed gets at least three */
export function useCorners({ zoom, toScreen }: Bench, onClosed: (points: Point[]) => void): Tool {
  const store = useDepthStore();
  const [corners, setCorners] = useState<Point[]>([]);
  const [pen, setPen] = useState<Point | undefined>();
  const last = useRef<Point | undefined>(undefined);

  const close = (): void => {
    const points = withoutTwins(corners);
    setCorners([]);
    if (points.length >= 3) onClosed(points);
    else if (points.length > 0)
      store
        .getState()
        .notify(
          'info',
          'An outline needs at least three corners. Click them one after another; a double click or Enter closes it.',
        );
  };

  return {
    down: (at) => {
      last.current = at;
      setCorners((points) => [...points, at]);
    },
    move: (at) => {
      setPen(at);
      // Drawn with the button held, an outline follows the hand.
      if (!last.current || Math.hypot(at.x - last.current.x, at.y - last.current.y) * zoom <= STEP) return;
      last.current = at;
      setCorners((points) => [...points, at]);
    },
    hover: setPen,
    doubleClick: close,
    key: ({ key }) => {
      if (corners.length === 0) return false;
      if (key === 'Enter') close();
      else if (key === 'Escape') setCorners([]);
      else if (key === 'Backspace') setCorners((points) => points.slice(0, -1));
      else return false;
      return true;
    },
    overlay: corners.length > 0 && (
      <OpenLine points={[...corners, ...(pen ? [pen] : [])].map(toScreen)} corners={corners.map(toScreen)} />
    ),
  };
}

/** A polygon that is filled with one depth. */
export const useOutline: UseTool = (bench) => {
  const store = useDepthStore();
  return useCorners(bench, (points) => {
    const s = store.getState();
    const edit = s.editDepth({ kind: 'polygon', points, depth: s.outlineDepth }, targetOf(s));
    void s.preview?.applyEdit(edit).then(bench.preview.ask);
  });
};
