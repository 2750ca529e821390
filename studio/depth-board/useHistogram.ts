'use client';

import { useEffect, useState } from 'react';
import { useRoom } from '../room/context';

/** How many pixels lie at each depth of the ruler, far to near; follows what is painted and moved. */
export function useHistogram(bins: number): readonly number[] {
  const source = useRoom((s) => s.histogramOf);
  const revision = useRoom((s) =>
    JSON.stringify([s.document.depth, s.document.plates.map((p) => [p.matte, p.hidden, p.depth])]),
  );
  const [counts, setCounts] = useState<readonly number[]>([]);
  useEffect(() => {
    if (!source) return undefined;
    let gone = false;
    const timer = setTimeout(() => {
      void source(bins).then((c) => {
        if (!gone) setCounts(c);
      });
    }, 120);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [source, bins, revision]);
  return counts;
}
