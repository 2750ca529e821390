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

/** So many times its width to each side of a line is filled anew, and at least so many px of the source's width. */
const REACH = 2;
const LEAST_REACH = 1 / 40;

/** Continues an edge from where it is known to where it goes on, or parts two grounds; what lies beside is filled anew. */
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
      const { hand } = store.getState();
      if (hand.stroke === 'line' && isLong(line.from, at)) draw(lineOf(hand, line.from, at));
    },
    up: () => {
      if (!line) return;
      setLine(undefined);
      const { hand, fillEdit, fillBy, notify, active: plate, document } = store.getState();
      if (isLong(line.from, line.to)) {
        const ends = { from: tenths(line.from), to: tenths(line.to) };
        const fillBeside = (label: string, width: number, reach: number): void => {
          fillBy(label, {
            action: 'fill',
            plate,
            method: 'continue',
            seeds: [1],
            area: { kind: 'beside', ...ends, width, reach, parts: hand.stroke === 'border' },
            sample: { kind: 'everywhere' },
          });
        };
        if (hand.stroke === 'border') {
          draw(undefined);
          fillBeside('Part two grounds', 0, hand.lineWidth);
          return;
        }
        fillEdit(lineOf(hand, line.from, line.to));
        // What is drawn on the picture itself has nothing beside it that is filled.
        if (!hand.besideAnew || hand.beyond) return;
        const { lineWidth: width } = hand;
        const reach = Math.min(1000, Math.max(REACH * width, document.source.width * LEAST_REACH));
        fillBeside('Fill beside the line', width, reach);
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
