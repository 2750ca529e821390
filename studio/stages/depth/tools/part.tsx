'use client';

import type { Tool, UseTool } from '../../../viewer/tool';
import { useDepth, useDepthStore } from '../slice';
import { useCorners } from './outline';

/** The part of the picture that is shaped: outlines around it; or, where that is asked, what it is matched with. */
export const usePart: UseTool = (bench) => {
  const store = useDepthStore();
  const { kind, picking, like } = useDepth((s) => s.shape);
  const corners = useCorners(bench, (points) => {
    const s = store.getState();
    const { ingredients, edge } = s.choice;
    s.set({ choice: { edge, ingredients: [...ingredients, { kind: 'outline', way: 'add', points }] } });
  });
  const place =
    kind === 'match' && like ? <Like at={bench.toScreen(like)} radius={(like.size / 2) * bench.zoom} /> : null;
  if (!picking)
    return {
      ...corners,
      overlay: (
        <>
          {corners.overlay}
          {place}
        </>
      ),
    };
  const pick: Tool = {
    down: (at) => {
      const s = store.getState();
      s.set({ shape: { ...s.shape, picking: false, like: { x: at.x, y: at.y, size: s.brush.size } } });
    },
    overlay: place,
  };
  return pick;
};

function Like({ at, radius }: { at: { x: number; y: number }; radius: number }) {
  return (
    <>
      <div className="ct-brush" style={{ left: at.x, top: at.y, width: radius * 2, height: radius * 2 }} />
      <div className="ct-slip" style={{ left: at.x + radius + 8, top: at.y - 12 }}>
        as deep as this
      </div>
    </>
  );
}
