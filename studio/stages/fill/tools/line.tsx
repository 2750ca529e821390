'use client';

import { useState } from 'react';
import type { FillEdit } from '@/core/fill/edits';
import type { Point } from '@/core/raster/geometry';
import { simplifyPath } from '@/core/raster/simplify';
import { HeldPaths, OpenPath } from '../../../viewer/marks';
import { tenths, type UseTool } from '../../../viewer/tool';
import { strokesOf, useFill, useFillStore, type Hand } from '../slice';
import { useDrawing } from './drawing';

/** Shorter strokes are clicks, css px. */
const SHORTEST = 4;
/** A path drawn by hand is kept to so many css px, and to the corners that a stroke may have. */
const TOLERANCE = 1.5;
const MOST_CORNERS = 64;

/** So many times its width to each side of a line is filled anew, and at least so many px of the source's width. */
const REACH = 2;
const LEAST_REACH = 1 / 40;

/** Continues an edge from where it is known to where it goes on, or parts two grounds; what lies beside is filled anew. */
export const useLine: UseTool = ({ zoom, toScreen }) => {
  const store = useFillStore();
  const held = useFill(strokesOf);
  const [path, setPath] = useState<readonly Point[]>([]);
  const draw = useDrawing();
  /** A stroke's corners so far; undefined while it is no longer than a click. */
  const strokeOf = (drawn: readonly Point[]): Point[] | undefined => {
    const far = Math.max(0, ...drawn.map((p) => Math.hypot(p.x - drawn[0].x, p.y - drawn[0].y)));
    if (far * zoom < SHORTEST) return undefined;
    let few = simplifyPath(drawn, TOLERANCE / zoom);
    for (let wider = 2; few.length > MOST_CORNERS; wider *= 2) few = simplifyPath(drawn, (wider * TOLERANCE) / zoom);
    return few.map(tenths);
  };
  return {
    down: (at) => {
      setPath([at]);
    },
    move: (at, pen) => {
      if (path.length === 0) return;
      const { hand } = store.getState();
      const drawn = hand.straight ? [path[0], at] : [...path, ...pen.path];
      setPath(drawn);
      const points = strokeOf(drawn);
      if (hand.stroke === 'line' && points) draw(lineOf(hand, points));
    },
    up: () => {
      if (path.length === 0) return;
      setPath([]);
      const { hand, fillEdit, fillBy, notify, active: plate, document } = store.getState();
      const points = strokeOf(path);
      if (!points) {
        draw(undefined);
        notify('info', 'A line is drawn from where the edge is known to where it goes on: press, draw, let go.');
        return;
      }
      const fillBeside = (label: string, reach: number): void => {
        fillBy(label, {
          action: 'fill',
          plate,
          method: 'continue',
          seeds: [1],
          area: {
            kind: 'beside',
            stroke: { id: crypto.randomUUID(), kind: hand.stroke, points, width: hand.lineWidth, reach },
          },
          sample: { kind: 'everywhere' },
        });
      };
      if (hand.stroke === 'border') {
        draw(undefined);
        fillBeside('Part two grounds', hand.lineWidth);
        return;
      }
      fillEdit(lineOf(hand, points));
      // What is drawn on the picture itself has nothing beside it that is filled.
      if (!hand.besideAnew || hand.beyond) return;
      const reach = Math.min(1000, Math.max(REACH * hand.lineWidth, document.source.width * LEAST_REACH));
      fillBeside('Fill beside the line', reach);
    },
    overlay: (
      <>
        <HeldPaths
          paths={held.map(({ kind, points, width }) => ({
            points: points.map(toScreen),
            width: kind === 'line' ? width * zoom : 0,
          }))}
        />
        {path.length > 1 && (
          <OpenPath points={path.map(toScreen)} corners={[path[0], path[path.length - 1]].map(toScreen)} />
        )}
      </>
    ),
  };
};

const lineOf = ({ lineWidth, beyond }: Hand, points: Point[]): FillEdit => ({
  kind: 'line',
  points,
  width: lineWidth,
  beyond,
});
