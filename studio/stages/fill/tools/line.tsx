'use client';

import { useState } from 'react';
import type { FillEdit } from '@/core/fill/edits';
import type { Point } from '@/core/raster/geometry';
import { OpenLine } from '../../../viewer/marks';
import { tenths, type UseTool } from '../../../viewer/tool';
import { useFillStore, type Hand } from '../slice';
import { useDrawing } from './drawing';

/** Shorter lines are clicks, css px. */
const SHORTEST = 4;

/** Continues an edge from where it is known to where it goes on. */
export const useLine: UseTool = ({ zoom, toScreen }) => {
  const store = useFillStore();
  const [line, setLine] = useState<{ from: Point; to: Point } | undefined>();
  const draw = useDrawing();
  const isLong = (from: Point, to: Point): boolean => Math.hypot(to.x - from.x, to.y - from.y) * zoom >= SHORTEST;
  return {
    down: (at) => {
      setLine({ from: at, to: at });
    },
    move: (at) => {
      if (!line) return;
      setLine({ ...line, to: at });
      if (isLong(line.from, at)) draw(lineOf(store.getState().hand, line.from, at));
    },
    up: () => {
      if (!line) return;
      setLine(undefined);
      const { hand, fillEdit, notify } = store.getState();
      if (isLong(line.from, line.to)) {
        fillEdit(lineOf(hand, line.from, line.to));
        return;
      }
      draw(undefined);
      notify('info', 'A line is drawn from where the edge is known to where it goes on: press, draw, let go.');
    },
    overlay: line && (
      <OpenLine points={[line.from, line.to].map(toScreen)} corners={[line.from, line.to].map(toScreen)} />
    ),
  };
};

const lineOf = ({ lineWidth, beyond }: Hand, from: Point, to: Point): FillEdit => ({
  kind: 'line',
  from: tenths(from),
  to: tenths(to),
  width: lineWidth,
  beyond,
});
