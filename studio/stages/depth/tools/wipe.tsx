'use client';

import type { Point } from '@/core/raster/geometry';
import type { UseTool } from '../../../viewer/tool';
import { useDepth, useDepthStore } from '../slice';
import { versionName } from '../versionName';

/** The line between two versions of the map, moved by the hand. */
export const useWipe: UseTool = ({ size, toScreen }) => {
  const store = useDepthStore();
  const wipe = useDepth((s) => s.wipe);
  const width = useDepth((s) => s.document.source.width);
  const move = ({ x }: Point): void => {
    const s = store.getState();
    if (s.wipe) s.setWipe({ ...s.wipe, at: Math.min(1, Math.max(0, x / width)) });
  };
  return {
    down: move,
    move,
    cursor: 'ew-resize',
    overlay: wipe && <WipeLine x={toScreen({ x: wipe.at * width, y: 0 }).x} height={size.height} />,
  };
};

function WipeLine({ x, height }: { x: number; height: number }) {
  const left = useDepth((s) => versionName(s, s.wipe?.left ?? null));
  const right = useDepth((s) => versionName(s, s.wipe?.right ?? null));
  return (
    <>
      <svg className="ct-over">
        <line className="ct-casing" x1={x} x2={x} y1={0} y2={height} />
        <line className="ct-line" x1={x} x2={x} y1={0} y2={height} />
        <circle cx={x} cy={height / 2} r="7" />
      </svg>
      <div className="ct-slip ct-wipe-left" style={{ left: x - 8, top: 10 }}>
        {left}
      </div>
      <div className="ct-slip" style={{ left: x + 8, top: 10 }}>
        {right}
      </div>
    </>
  );
}
