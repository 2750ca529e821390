'use client';

import { useEffect, useMemo, useState } from 'react';
import type { Outline } from '@/core/move/outlines';
import { projectionOf, projectPoint } from '@/core/camera/projection';
import { inverseDistance } from '@/core/camera/sourceCamera';
import { poseAt } from '@/core/camera/move';
import { wholeScene } from '@/core/scene/sceneAt';
import { sceneOf } from '@/core/scene/sceneOf';
import { rangeOf, type ShotDocument } from '@/core/shot/document';
import type { Bench } from '../../../viewer/tool';
import { useMove, useMoveStore } from '../slice';

/** Where plates are at the first and at the last frame, as thin lines over the picture. */
export function Ghosts({ bench: { toScreen, zoom } }: { bench: Bench }) {
  const document = useMove((s) => s.document);
  const outlines = useOutlines();
  const paths = useMemo(() => pathsOf(document, outlines), [document, outlines]);
  const { x, y } = toScreen({ x: 0.5, y: 0.5 });
  return (
    <svg className="ct-over" aria-hidden data-testid="ghosts">
      <g transform={`translate(${x} ${y}) scale(${zoom})`}>
        {paths.map((d, n) => (
          <g key={n} className={n === 0 ? 'ct-ghost' : 'ct-ghost last'}>
            <path className="ct-casing" d={d} />
            <path className="ct-line" d={d} />
          </g>
        ))}
      </g>
    </svg>
  );
}

/** Borders of the plates; follow what is cut, painted and moved in depth. */
function useOutlines(): readonly Outline[] {
  const store = useMoveStore();
  const preview = useMove((s) => s.preview);
  const revision = useMove((s) => `${sceneOf(s.document).version} ${s.rasterTicket}`);
  const [outlines, setOutlines] = useState<readonly Outline[]>([]);
  useEffect(() => {
    if (!preview) return undefined;
    let gone = false;
    void preview.outlines(sceneOf(store.getState().document)).then((found) => {
      if (!gone) setOutlines(found);
    });
    return () => {
      gone = true;
    };
  }, [store, preview, revision]);
  return outlines;
}

/** The outlines as the first frame sees them, and as the last one does; px of the source. */
function pathsOf(document: ShotDocument, outlines: readonly Outline[]): string[] {
  const { move } = document;
  if (!move) return [];
  const { camera } = wholeScene(document);
  const { first, last } = rangeOf(move);
  return [first, last].map((frame) => {
    const projection = projectionOf(camera, poseAt(move, frame));
    return outlines
      .map(({ places }) => {
        const line: string[] = [];
        for (let n = 0; n < places.length; n += 3) {
          const at = { x: places[n], y: places[n + 1] };
          const seen = projectPoint(projection, at, inverseDistance(places[n + 2], camera));
          if (seen) line.push(`${seen.x.toFixed(1)} ${seen.y.toFixed(1)}`);
        }
        return line.length > 2 ? `M${line.join('L')}Z` : '';
      })
      .join('');
  });
}
