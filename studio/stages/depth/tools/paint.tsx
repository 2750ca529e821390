'use client';

import { useCallback, useRef, useState } from 'react';
import type { LocalEdit } from '@/compute/preview';
import type { StrokePoint } from '@/core/depth/brush';
import type { Point } from '@/core/raster/geometry';
import { parallaxOf, spanBudget } from '@/core/stereo/parallax';
import { figure, signed } from '../../../numbers';
import type { UseTool } from '../../../viewer/tool';
import { brushOn, useDepth, useDepthStore, targetOf } from '../slice';

/** A stroke of more points than travel at once is cut into pieces that overlap by one point. */
const AT_ONCE = 20_000;

/** The depth brush. */
export const usePaint: UseTool = ({ zoom, size, toScreen, preview }) => {
  const store = useDepthStore();
  const { size: brushSize } = useDepth((s) => s.brush);
  const [pen, setPen] = useState<Point | undefined>();
  const points = useRef<StrokePoint[]>([]);
  // Points wait here for the worker, and go there together: one message a frame, however fast the pen reports.
  const queued = useRef<StrokePoint[]>([]);
  const sending = useRef<Promise<void> | undefined>(undefined);

  /** Sends what waits; done when the worker has painted all of it. */
  const flush = useCallback((): Promise<void> => {
    sending.current ??= (async () => {
      const { preview: link } = store.getState();
      try {
        while (link && queued.current.length > 0) {
          const path = queued.current;
          queued.current = [];
          const began = performance.now();
          preview.take(await link.addPoints(path, preview.request()));
          performance.measure('stroke-shown', { start: began });
        }
      } finally {
        sending.current = undefined;
      }
    })();
    return sending.current;
  }, [preview, store]);

  const extend = (path: readonly StrokePoint[]): void => {
    points.current.push(...path);
    queued.current.push(...path);
    void flush();
  };

  return {
    down: (_at, { path }) => {
      const s = store.getState();
      const { plate, behind } = targetOf(s);
      void s.preview?.beginStroke(brushOn(s, { plate, behind }), behind ? 'behind' : plate);
      points.current = [];
      extend(path);
    },
    move: (at, { path }) => {
      setPen(at);
      extend(path);
    },
    up: () => {
      const s = store.getState();
      const all = points.current;
      if (all.length === 0) return;
      points.current = [];
      const target = targetOf(s);
      const brush = { kind: 'stroke', ...brushOn(s, target) } as const;
      const edits: LocalEdit[] = [];
      for (let n = 0; n === 0 || n < all.length - 1; n += AT_ONCE - 1)
        edits.push(s.editDepth({ ...brush, points: all.slice(n, n + AT_ONCE) }, target));
      void flush().then(() => s.preview?.endStroke(edits));
    },
    hover: setPen,
    overlay: pen && <BrushMark at={toScreen(pen)} radius={(brushSize / 2) * zoom} size={size} />,
    cursor: 'none',
  };
};

/** The brush's size, what it does, and the depth that lies under it. */
function BrushMark({ at, radius, size }: { at: Point; radius: number; size: { width: number; height: number } }) {
  const here = useDepth((s) => s.hoverDepth);
  const brush = useDepth((s) => s.brush);
  const { budget, depth, plates } = useDepth((s) => s.document);
  const active = useDepth((s) => s.active);
  const span = plates.find((p) => p.id === active)?.depth ?? depth;
  const toLeft = at.x + radius + 160 > size.width;
  const side = toLeft ? { right: size.width - at.x + radius + 10 } : { left: at.x + radius + 10 };
  return (
    <>
      <div className="ct-brush" style={{ left: at.x, top: at.y, width: radius * 2, height: radius * 2 }} />
      <div className="ct-slip" style={{ ...side, top: Math.max(4, at.y - 18) }}>
        <b>{ACTIONS[brush.mode](figure(brush.depth, 2))}</b>
        {(brush.edge ?? 0) > 0 && <span> to edges</span>}
        {brush.mode === 'set' && <span> {signed(parallaxOf(brush.depth, spanBudget(budget, span)), 1)} px</span>}
        {here !== undefined && (
          <div>
            here {figure(here, 2)} <span>{signed(parallaxOf(here, budget), 1)} px</span>
          </div>
        )}
      </div>
    </>
  );
}

const ACTIONS = {
  set: (depth: string) => `set ${depth}`,
  nearer: (depth: string) => `nearer by ${depth}`,
  farther: (depth: string) => `farther by ${depth}`,
  smooth: () => 'smooth',
  push: () => 'push',
  uneven: (depth: string) => `uneven by ${depth}`,
} as const;
