'use client';

import { useRef, useState } from 'react';
import type { Point } from '@/core/raster/geometry';
import { OpenLine } from '../../../viewer/marks';
import type { UseTool } from '../../../viewer/tool';
import { useCutStore } from '../slice';

/** How far an edge trace looks for an edge, css px. */
const SNAP = 10;
const MOST_POINTS = 20_000;

interface Traced {
  /** The way so far. */
  readonly fixed: readonly Point[];
  /** The places that were clicked, as they lie on the edge. */
  readonly anchors: readonly Point[];
  /** From the last of them to the pen. */
  readonly live: readonly Point[];
}
const NOTHING: Traced = { fixed: [], anchors: [], live: [] };

/** An outline that follows the strongest edge between clicks. */
export const useTrace: UseTool = ({ zoom, toScreen }) => {
  const store = useCutStore();
  const [traced, setTraced] = useState(NOTHING);
  const latest = useRef(traced);
  latest.current = traced;
  const asking = useRef(false);
  const link = () => store.getState().preview;

  const anchor = async (at: Point): Promise<void> => {
    const preview = link();
    if (!preview) return;
    const { anchors, fixed } = latest.current;
    if (anchors.length === 0) {
      const first = await preview.beginTrace(at.x, at.y, SNAP / zoom);
      setTraced({ fixed: [first], anchors: [first], live: [] });
      return;
    }
    const way = await preview.traceTo(at.x, at.y, SNAP / zoom);
    if (way.length < 2) return;
    const end = way[way.length - 1];
    await preview.beginTrace(end.x, end.y, 0.6);
    setTraced({ fixed: [...fixed, ...way.slice(1)], anchors: [...anchors, end], live: [] });
  };

  const close = async (): Promise<void> => {
    const s = store.getState();
    const preview = link();
    const { fixed, anchors } = latest.current;
    setTraced(NOTHING);
    if (fixed.length < 3 || anchors.length < 2) {
      s.notify(
        'info',
        'An edge trace needs at least two places on the edge. Click them one after another; a double click or Enter closes it.',
      );
      return;
    }
    // Closed along the edge too, from the last place back to the first.
    const last = fixed[fixed.length - 1];
    await preview?.beginTrace(last.x, last.y, 1);
    const back = (await preview?.traceTo(fixed[0].x, fixed[0].y, 1)) ?? [];
    const points = [...fixed, ...back.slice(1, -1)].slice(0, MOST_POINTS);
    s.choose({ kind: 'trace', way: s.joining, points });
  };

  const stepBack = (): void => {
    const { anchors, fixed } = latest.current;
    const left = anchors.slice(0, -1);
    const last = left[left.length - 1];
    const end = last ? fixed.findIndex((p) => p.x === last.x && p.y === last.y) : -1;
    setTraced({ anchors: left, fixed: last ? fixed.slice(0, end + 1) : [], live: [] });
    if (last) void link()?.beginTrace(last.x, last.y, 1);
  };

  const drawing = traced.anchors.length > 0;
  return {
    down: (at, { detail }) => {
      if (detail < 2) void anchor(at);
    },
    hover: (at) => {
      const preview = link();
      if (!at || !preview || latest.current.anchors.length === 0 || asking.current) return;
      asking.current = true;
      preview.traceTo(at.x, at.y, SNAP / zoom).then(
        (live) => {
          asking.current = false;
          setTraced((t) => (t.anchors.length > 0 ? { ...t, live } : t));
        },
        () => {
          asking.current = false;
        },
      );
    },
    doubleClick: () => {
      void close();
    },
    key: ({ key }) => {
      if (!drawing) return false;
      if (key === 'Enter') void close();
      else if (key === 'Escape') setTraced(NOTHING);
      else if (key === 'Backspace') stepBack();
      else return false;
      return true;
    },
    overlay: drawing && (
      <OpenLine points={[...traced.fixed, ...traced.live].map(toScreen)} corners={traced.anchors.map(toScreen)} />
    ),
  };
};
