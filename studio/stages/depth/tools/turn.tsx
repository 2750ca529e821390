'use client';

import { useRef } from 'react';
import { ReliefView } from '@/core/depth/relief/reliefView';
import type { Point } from '@/core/raster/geometry';
import { depthOf } from '@/core/stereo/parallax';
import type { Bench, UseTool } from '../../../viewer/tool';
import { useDepth, useDepthStore } from '../slice';

/** Degrees that a css px turns. */
const PER_PX = 0.25;
const held = (v: number, most: number): number => Math.min(most, Math.max(-most, v));

/** Turns the map as a surface. */
export const useTurn: UseTool = (bench) => {
  const store = useDepthStore();
  const begun = useRef<{ at: Point; turnedDeg: number; tippedDeg: number } | undefined>(undefined);
  return {
    cursor: 'grab',
    down: (at) => {
      const { pose } = store.getState().relief;
      begun.current = { at, turnedDeg: pose.turnedDeg, tippedDeg: pose.tippedDeg };
    },
    move: (at) => {
      const from = begun.current;
      if (!from) return;
      const s = store.getState();
      const turnedDeg = held(from.turnedDeg + (at.x - from.at.x) * bench.zoom * PER_PX, 85);
      const tippedDeg = held(from.tippedDeg + (at.y - from.at.y) * bench.zoom * PER_PX, 75);
      s.set({ relief: { ...s.relief, turning: true, pose: { ...s.relief.pose, turnedDeg, tippedDeg } } });
    },
    up: () => {
      begun.current = undefined;
      const s = store.getState();
      s.set({ relief: { ...s.relief, turning: false } });
    },
    overlay: <Box bench={bench} />,
  };
};

const SIDES = [
  [0, 1],
  [1, 2],
  [2, 3],
  [3, 0],
] as const;

/** The box that the surface stands in, where the screen lies in it, the row that is cut, and the spikes. */
function Box({ bench: { toScreen, size } }: { bench: Bench }) {
  const { width, height } = useDepth((s) => s.document.source);
  const { pose, spikes, chosen, row } = useDepth((s) => s.relief);
  const budget = useDepth((s) => s.document.budget);
  const span = useDepth((s) => s.document.plates.find((p) => p.id === s.active)?.depth ?? s.document.depth);
  const view = new ReliefView({ width, height }, pose);
  const corners = view.corners().map(toScreen);
  const at = (x: number, y: number, depth: number): Point => toScreen(view.place(x, y, depth));
  const line = (a: Point, b: Point, key: string, dash = false) => (
    <line
      key={key}
      className={dash ? 'ct-relief-box ct-relief-dash' : 'ct-relief-box'}
      x1={a.x}
      y1={a.y}
      x2={b.x}
      y2={b.y}
    />
  );
  const screen = depthOf(0, budget);
  // Where all depth has one parallax there is no screen among it: the row is drawn in the middle.
  const rowDepth = screen > 0 && screen < 1 ? screen : 0.5;
  const frame = [at(0, 0, screen), at(width, 0, screen), at(width, height, screen), at(0, height, screen)];
  const [rowLeft, rowRight] = [at(0, row * height, rowDepth), at(width, row * height, rowDepth)];
  return (
    <>
      <svg className="ct-over">
        {SIDES.map(([a, b]) => line(corners[a], corners[b], `far ${a}`, true))}
        {SIDES.map(([a, b]) => line(corners[a + 4], corners[b + 4], `near ${a}`))}
        {SIDES.map(([a]) => line(corners[a], corners[a + 4], `deep ${a}`, true))}
        {screen > 0 && screen < 1 && (
          <polygon className="ct-relief-screen" points={frame.map(({ x, y }) => `${x},${y}`).join(' ')} />
        )}
        <line className="ct-relief-row" x1={rowLeft.x} y1={rowLeft.y} x2={rowRight.x} y2={rowRight.y} />
      </svg>
      <div className="ct-slip" style={{ left: corners[7].x - 60, top: Math.min(size.height - 30, corners[7].y - 8) }}>
        near
      </div>
      <div className="ct-slip" style={{ left: corners[2].x + 6, top: Math.min(size.height - 30, corners[2].y - 8) }}>
        far
      </div>
      {screen > 0 && screen < 1 && (
        <div className="ct-slip" style={{ left: frame[1].x - 50, top: frame[1].y - 28 }}>
          screen
        </div>
      )}
      {(spikes ?? []).slice(0, 9).map(({ x, y, depth }, n) => {
        const place = at(x, y, span.far + (span.near - span.far) * depth);
        return (
          <span
            key={`${x} ${y}`}
            className={`ct-fault-letter ct-fault-mark${chosen === n ? ' on' : ''}`}
            style={{ left: place.x, top: place.y }}
            aria-hidden
          >
            {n + 1}
          </span>
        );
      })}
    </>
  );
}
