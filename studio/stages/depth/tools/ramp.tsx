'use client';

import { useState } from 'react';
import type { Point } from '@/core/raster/geometry';
import { figure } from '../../../numbers';
import type { UseTool } from '../../../viewer/tool';
import { targetOf, useDepth, useDepthStore } from '../slice';

/** Shorter lines are clicks, css px. */
const SHORTEST = 4;

/** A line along which depth rises. */
export const useRamp: UseTool = ({ zoom, toScreen, preview }) => {
  const store = useDepthStore();
  const [line, setLine] = useState<{ from: Point; to: Point } | undefined>();
  return {
    down: (at) => {
      setLine({ from: at, to: at });
    },
    move: (at, { shiftKey }) => {
      setLine((drawn) => drawn && { ...drawn, to: shiftKey ? straight(drawn.from, at) : at });
    },
    up: () => {
      if (!line) return;
      setLine(undefined);
      const s = store.getState();
      if (Math.hypot(line.to.x - line.from.x, line.to.y - line.from.y) * zoom < SHORTEST) {
        s.notify('info', 'A ramp needs a line: press, draw it to where the depth shall end, and let go.');
        return;
      }
      const { fromDepth, toDepth, shape, reach, against } = s.ramp;
      const from = { ...line.from, depth: fromDepth };
      const to = { ...line.to, depth: toDepth };
      const edit = s.editDepth({ kind: 'ramp', from, to, shape, reach, against }, targetOf(s));
      void s.preview?.applyEdit(edit).then(preview.ask);
    },
    overlay: line && <Line from={toScreen(line.from)} to={toScreen(line.to)} />,
  };
};

/** Turns a direction to the nearest multiple of 15 degrees. */
function straight(from: Point, to: Point): Point {
  const step = Math.PI / 12;
  const angle = Math.round(Math.atan2(to.y - from.y, to.x - from.x) / step) * step;
  const length = Math.hypot(to.x - from.x, to.y - from.y);
  return { x: from.x + Math.cos(angle) * length, y: from.y + Math.sin(angle) * length };
}

function Line({ from, to }: { from: Point; to: Point }) {
  const ramp = useDepth((s) => s.ramp);
  const ends = { x1: from.x, y1: from.y, x2: to.x, y2: to.y };
  return (
    <>
      <svg className="ct-over">
        <line className="ct-casing" {...ends} />
        <line className="ct-line" {...ends} />
        {ramp.shape === 'circle' && (
          <circle className="ct-ramp-round" cx={from.x} cy={from.y} r={Math.hypot(to.x - from.x, to.y - from.y)} />
        )}
        {ramp.shape === 'reflected' && (
          <line className="ct-line" x1={from.x} y1={from.y} x2={2 * from.x - to.x} y2={2 * from.y - to.y} />
        )}
        <circle cx={from.x} cy={from.y} r="5" />
        <circle cx={to.x} cy={to.y} r="5" />
      </svg>
      <div className="ct-slip" style={{ left: from.x + 10, top: from.y + 6 }}>
        <b>{figure(ramp.fromDepth, 2)}</b>
      </div>
      <div className="ct-slip" style={{ left: to.x + 10, top: to.y + 6 }}>
        <b>{figure(ramp.toDepth, 2)}</b>
      </div>
    </>
  );
}
