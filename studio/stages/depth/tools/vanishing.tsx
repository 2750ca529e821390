'use client';

import { useRef } from 'react';
import type { UseTool } from '../../../viewer/tool';
import { useDepth, useDepthStore } from '../slice';

/** So near to the point it is taken hold of, css px; elsewhere on its height the horizon is. */
const NEAR = 14;

/** The point where lines that go away meet, and the horizon through it. */
export const useVanishing: UseTool = ({ zoom, size, toScreen }) => {
  const store = useDepthStore();
  const { shape, vanishing } = useDepth((s) => s.cues);
  const source = useDepth((s) => s.document.source);
  const taken = useRef<'point' | 'horizon' | undefined>(undefined);
  const at = { x: vanishing.x * source.width, y: vanishing.y * source.height };
  const shown = toScreen(at);
  const drag = (x: number, y: number): void => {
    const s = store.getState();
    s.set({
      cues: {
        ...s.cues,
        vanishing: {
          x: taken.current === 'horizon' ? vanishing.x : Math.min(1, Math.max(0, x / source.width)),
          y: Math.min(3, Math.max(-2, y / source.height)),
        },
      },
      starting: true,
    });
  };
  if (shape === 'none') return { cursor: 'default' };
  return {
    down: (p) => {
      const near = Math.hypot(p.x - at.x, p.y - at.y) * zoom < NEAR;
      taken.current = near || shape !== 'ground' ? 'point' : 'horizon';
      drag(p.x, p.y);
    },
    move: (p) => {
      if (taken.current) drag(p.x, p.y);
    },
    up: () => {
      taken.current = undefined;
    },
    overlay: (
      <svg className="ct-over" aria-hidden>
        <line className="ct-casing" x1={0} y1={shown.y} x2={size.width} y2={shown.y} />
        <line className="ct-line" x1={0} y1={shown.y} x2={size.width} y2={shown.y} />
        {shape !== 'ground' &&
          [
            { x: 0, y: 0 },
            { x: source.width, y: 0 },
            { x: 0, y: source.height },
            { x: source.width, y: source.height },
          ]
            .filter((corner) => shape === 'corridor' || corner.y > 0)
            .map((corner, n) => {
              const end = toScreen(corner);
              return (
                <line
                  key={n}
                  className="ct-line"
                  strokeDasharray="4 5"
                  x1={shown.x}
                  y1={shown.y}
                  x2={end.x}
                  y2={end.y}
                />
              );
            })}
        <circle cx={shown.x} cy={shown.y} r="7" />
      </svg>
    ),
  };
};
